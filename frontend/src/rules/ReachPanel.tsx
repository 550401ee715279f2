import type { ReactNode } from "react";
import { Link } from "react-router";
import type { Shapes } from "../api/client";
import type { PointedAt } from "../conditions/ConditionSentence";
import { Chooser } from "../parts/controls";
import { PageFinder } from "../parts/PageFinder";
import { useLinkTo, usePieces } from "../parts/site";
import { useLines } from "../parts/useLines";
import { count, figure, targetName } from "../parts/words";
import { keyOf, ReachRow } from "./ReachRow";
import { TakesOver } from "./TakesOver";

interface Props {
  reach: Shapes["ReachInfo"];
  targets: string[];
  target: string;
  saved: boolean;
  /** Whether the numbers are those of the rule as it stands, not of how it stood before. */
  current: boolean;
  /** Whether the rule uses a template itself. */
  uses: boolean;
  /** The term that is pointed at in the sentence. */
  pointed: PointedAt | null;
  /** The page that is tested; empty for none. */
  tested: string;
  onTest: (path: string) => void;
  onTarget: (target: string) => void;
  onUse: (template: string) => void;
  /** What the checks find about it. */
  children: ReactNode;
}

/** How far the rule reaches as it stands in the editor, page by page. */
export function ReachPanel({
  reach,
  targets,
  target,
  saved,
  current,
  uses,
  pointed,
  tested,
  onTest,
  onTarget,
  onUse,
  children,
}: Props) {
  const chosen = targets.includes(target) ? target : "";
  const shown = reach.by_target.filter((one) => chosen === "" || one.target === chosen);
  const wins = chosen ? (shown[0]?.pages ?? 0) : reach.wins;
  const term = pointed
    ? reach.terms.findIndex(
        (one) => one.part === pointed.part && one.clause === pointed.clause && one.place === pointed.place,
      )
    : -1;
  const { tabIndex, list } = useLines(reach.pages.map(keyOf), undefined);
  const lit = (page: Shapes["ReachPage"]) => (term < 0 ? undefined : page.holds.includes(term));
  return (
    <aside className="side reach" aria-label="Reach">
      <div className="row" style={{ flexWrap: "wrap" }}>
        <h2 className="grow">Reach</h2>
        {targets.length > 1 && (
          <Chooser
            label="Place to look at"
            value={chosen}
            options={[["", "All it does"], ...targets.map((name) => [name, targetName(name)] as const)]}
            onChange={onTarget}
          />
        )}
      </div>
      <div className="numbers" role="status" aria-busy={!current}>
        <div>
          <b>{figure(reach.reached)}</b>
          <span className="mute">{reach.reached === 1 ? "page reached" : "pages reached"}</span>
        </div>
        <div>
          <b>{figure(wins)}</b>
          <span className="mute">where it wins and shows</span>
        </div>
        {saved && (reach.new > 0 || reach.gone > 0) && (
          <div>
            <b style={{ color: "var(--warn)" }}>{sinceSaved(reach)}</b>
            <span className="mute">since last save</span>
          </div>
        )}
      </div>
      {!reach.lets_in && (
        <p className="note-box">
          This rule is not for the visitor or the moment of the lens, so it wins nowhere through it.
        </p>
      )}
      {children}
      <TakesOver taken={reach.taken} />
      {shown
        .filter((one) => one.unplaced > 0)
        .map((one) => (
          <NoPlace key={one.target} mine={one} uses={uses} onUse={onUse} />
        ))}
      <div className="row test-page">
        <span className="mute">Test a page</span>
        <PageFinder path={tested} label="Page to test" onChoose={onTest} />
      </div>
      {reach.tested && (
        <ReachRow
          key={`tested ${reach.tested.path}`}
          asked
          page={reach.tested}
          terms={reach.terms}
          saved={saved}
        />
      )}
      {reach.reached === 0 && <p className="mute">No page matches yet.</p>}
      <div {...list}>
        {reach.pages.map((page) => (
          <ReachRow
            key={keyOf(page)}
            page={page}
            terms={reach.terms}
            saved={saved}
            lit={lit(page)}
            tabIndex={tabIndex(keyOf(page))}
          />
        ))}
      </div>
      {reach.pages.length < reach.reached && (
        <p className="mute">and {count(reach.reached - reach.pages.length, "more page")}</p>
      )}
      {reach.nearly.length > 0 && (
        <>
          <h3>Nearly: pages one term short</h3>
          {reach.nearly.map((miss) => (
            <div className="reach-row" key={miss.path}>
              <span className="clip" title={`${miss.title} ${miss.path}`}>
                {miss.title} <span className="mono mute">{miss.path}</span>
              </span>
              <span className="tag lose clip">lacks “{miss.term}”</span>
            </div>
          ))}
        </>
      )}
    </aside>
  );
}

/** Where the rule wins but nothing of it is to be seen, and the templates that would change that. */
function NoPlace({
  mine,
  uses,
  onUse,
}: {
  mine: Shapes["TargetMeasures"];
  uses: boolean;
  onUse: (template: string) => void;
}) {
  const { bySlug } = usePieces();
  const linkTo = useLinkTo();
  const name = targetName(mine.target).toLowerCase();
  const arranged = mine.unplaced - mine.unbound;
  return (
    <div className="note-box">
      <b>No place on {count(mine.unplaced, "page")}.</b>
      {mine.unbound > 0 && (
        <>
          {" "}
          {arranged ? count(mine.unbound, "page") : mine.unbound === 1 ? "It" : "They"}{" "}
          {mine.unbound === 1 ? "is drawn in its own HTML" : "are drawn in their own HTML"}, and{" "}
          <Link to={linkTo("site/bindings")}>no element of it is bound</Link> to the {name}.
        </>
      )}
      {arranged > 0 && ` The template of ${mine.unbound ? "the others" : "these pages"} has no ${name}.`}{" "}
      Nothing shows there.
      {arranged > 0 &&
        mine.templates.length === 0 &&
        " No template has one yet; give it to one under Pieces."}
      {mine.templates.length > 0 && (
        <div className="row" style={{ flexWrap: "wrap", marginTop: 6 }}>
          <span className="mute">Has one:</span>
          {mine.templates.map((slug) =>
            uses ? (
              <Link key={slug} to={linkTo(`pieces/${slug}`)}>
                {bySlug.get(slug)?.name ?? slug}
              </Link>
            ) : (
              <button key={slug} type="button" className="token add" onClick={() => onUse(slug)}>
                + use {bySlug.get(slug)?.name ?? slug} too
              </button>
            ),
          )}
        </div>
      )}
    </div>
  );
}

function sinceSaved(reach: Shapes["ReachInfo"]): string {
  return [reach.new ? `+${reach.new}` : "", reach.gone ? `−${reach.gone}` : ""].filter(Boolean).join(" ");
}
