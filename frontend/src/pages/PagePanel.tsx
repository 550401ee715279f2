import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { Shapes } from "../api/client";
import { pageQuery, type Tree, unlikeQuery } from "../api/queries";
import { rulesQuery } from "../api/ruleQueries";
import { Facts } from "../facts/Facts";
import { ownerOf } from "../facts/factsTree";
import { PieceName } from "../parts/PieceName";
import { useAddress, useAllColumns, useLens, useLinkTo, useSite } from "../parts/site";
import { outcomeText, targetName } from "../parts/words";
import { Looks } from "./Looks";
import { Mark, usePinMarks } from "./marks";
import "./trace.css";

interface Props {
  path: string;
  tree: Tree;
  onChoose: (target: string) => void;
  onClose: () => void;
}

/** A whole page: what each of its targets comes to through the lens, by which rule, and its looks. */
export function PagePanel({ path, tree, onChoose, onClose }: Props) {
  const site = useSite();
  const linkTo = useLinkTo();
  const correcting = useAddress().get("facts") === "edit" && site.by_hand;
  const facts = useQuery(pageQuery(site.slug, path)).data;
  const locks = new Map(
    facts?.locks.map((lock) => [lock.slot, ownerOf(lock)] as const).filter(([, told]) => told),
  );
  const rules = useQuery(rulesQuery(site.slug, useLens())).data;
  const unlike = useQuery(unlikeQuery(site.slug, [path])).data?.[0];
  const nameOf = new Map(rules?.map((row) => [row.id, row.rule.name]));
  const columns = useAllColumns();
  const number = tree.paths.indexOf(path);
  const marks = usePinMarks(tree, columns).get(number);
  const told = columns.map((column) => ({
    target: column.target,
    outcome: column.outcomes[column.codes[number] ?? 0] as Shapes["OutcomeInfo"],
    seated: !column.unseated.includes(number),
  }));
  return (
    <aside className="side" aria-label={`What ${path} gets`}>
      <div className="row">
        <span className="mute grow">Page</span>
        <Button variant="text" color="inherit" onClick={onClose} aria-label="Close the page">
          Close
        </Button>
      </div>
      <h2>{tree.titles[number]}</h2>
      <p className="mono mute">{path}</p>
      {!correcting && (
        <>
          <table className="page-gets">
            <caption className="visually-hidden">What it gets</caption>
            <tbody>
              {told.map(({ target, outcome, seated }) => (
                <tr key={target}>
                  <th scope="row">
                    <button type="button" className="as-link" onClick={() => onChoose(target)}>
                      {targetName(target)}
                    </button>
                  </th>
                  <td>
                    {outcome.pieces.length ? (
                      outcome.pieces.map((slug) => <PieceName key={slug} slug={slug} />)
                    ) : (
                      <span className="mute">
                        {outcome.state === "locked" && locks.has(target)
                          ? `locked: ${locks.get(target)}`
                          : outcomeText(outcome, () => undefined)}
                      </span>
                    )}
                    {!seated && outcome.pieces.length > 0 && <span className="warn"> no place here</span>}
                    <Mark kind={marks?.get(target)?.kind} about={marks?.get(target)?.about} />
                    {unlike?.targets.includes(target) && <Mark kind="unlike" />}
                    {outcome.by !== null && (
                      <span className="mute by">by {nameOf.get(outcome.by) ?? "…"}</span>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <Button variant="outlined" component={Link} to={linkTo("preview", { path })}>
            Look at the page
          </Button>
        </>
      )}
      <Facts path={path} />
      {!correcting && <Looks path={path} />}
    </aside>
  );
}
