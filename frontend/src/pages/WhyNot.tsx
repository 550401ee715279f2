import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Shapes } from "../api/client";
import { rulesQuery, whyNotQuery } from "../api/ruleQueries";
import { PieceName } from "../parts/PieceName";
import { SearchList } from "../parts/SearchList";
import { type PieceRow, useLens, usePieces, useSite } from "../parts/site";
import { capital, count, kindFor, targetName, targetOf } from "../parts/words";
import { useChangeRule } from "../rules/useChangeRule";
import { useNewRule } from "../rules/useNewRule";
import { pinAction, ruleFor } from "./newRule";
import type { Pins } from "./usePins";

type Row = Shapes["RuleRow"];
type Remedy = Shapes["RemedyInfo"];

interface Props {
  path: string;
  target: string;
  pins: Pins;
}

/** What is asked about: a rule that acts on the target, or a piece that no rule puts there. */
type Asked = { rule: Row } | { piece: PieceRow };

/** Why a rule, or a piece, does not show here, and the smallest changes after which it would. */
export function WhyNot({ path, target, pins }: Props) {
  const [asking, setAsking] = useState(false);
  const [chosen, setChosen] = useState<Asked | null>(null);
  const other = () => setChosen(null);
  return (
    <>
      <h3>Why not something else?</h3>
      {chosen && "rule" in chosen && (
        <Answer path={path} target={target} rule={chosen.rule.id} onOther={other} />
      )}
      {chosen && "piece" in chosen && (
        <NoRule path={path} target={target} piece={chosen.piece} pins={pins} onOther={other} />
      )}
      {chosen === null && !asking && (
        <Button variant="outlined" onClick={() => setAsking(true)}>
          Ask about a rule or a piece
        </Button>
      )}
      {chosen === null && asking && <ChooseAsked target={target} onChoose={setChosen} />}
    </>
  );
}

/** The rules that act on a target, found by their name or by what they put there, and the pieces that none puts there. */
function ChooseAsked({ target, onChoose }: { target: string; onChoose: (asked: Asked) => void }) {
  const site = useSite();
  const rules = useQuery(rulesQuery(site.slug, useLens())).data ?? [];
  const { list, bySlug } = usePieces();
  const [text, setText] = useState("");
  const acting = rules.filter((row) => row.by_target.some((one) => one.target === target));
  const piecesOf = (row: Row) =>
    (row.rule.actions ?? [])
      .filter((one) => targetOf(one) === target)
      .map((one) => one.piece ?? one.template ?? "");
  const put = new Set(acting.flatMap(piecesOf));
  const others = target.startsWith("setting:")
    ? []
    : list.filter((piece) => piece.kind === kindFor(target) && !put.has(piece.slug));
  const asked: Asked[] = [...acting.map((rule) => ({ rule })), ...others.map((piece) => ({ piece }))];
  const words = (one: Asked) =>
    "rule" in one
      ? [one.rule.rule.name, ...piecesOf(one.rule).map((slug) => bySlug.get(slug)?.name ?? "")].join(" ")
      : one.piece.name;
  return (
    <SearchList
      label="Rule or piece to ask about"
      placeholder="Part of the name of a rule or of a piece"
      options={asked.filter((one) => words(one).toLowerCase().includes(text.toLowerCase()))}
      keyOf={(one) => ("rule" in one ? String(one.rule.id) : one.piece.slug)}
      nameOf={words}
      text={text}
      onText={setText}
      onChoose={onChoose}
      nothing="No rule and no piece that belongs here is called so."
    >
      {(one) =>
        "rule" in one ? (
          <>
            <span className="grow clip">{one.rule.rule.name}</span>
            <span className="count">
              {piecesOf(one.rule)[0] && <PieceName slug={piecesOf(one.rule)[0] as string} />}
            </span>
          </>
        ) : (
          <>
            <PieceName slug={one.piece.slug} />
            <span className="count">no rule puts it here</span>
          </>
        )
      }
    </SearchList>
  );
}

interface NoRuleProps extends Props {
  piece: PieceRow;
  onOther: () => void;
}

/** A piece that no rule puts on a target of any page: it can be pinned here, or a rule can be made. */
function NoRule({ path, target, piece, pins, onOther }: NoRuleProps) {
  const newRule = useNewRule();
  const action = pinAction(target, piece);
  return (
    <section className="why-not" aria-label="Why not">
      <p>
        <b>
          {target === "template"
            ? `No rule uses “${piece.name}”.`
            : `No rule puts “${piece.name}” into ${targetName(target).toLowerCase()}.`}
        </b>
      </p>
      <Button variant="outlined" onClick={() => pins.pin(path, action, null)}>
        Pin it here: changes this page
      </Button>
      <Button
        variant="outlined"
        onClick={() =>
          newRule(ruleFor({ include: `page:${path}`, exclude: "", where: path }, piece.name, action))
        }
      >
        Make a rule that does
      </Button>
      <Button variant="text" onClick={onOther}>
        Ask about another
      </Button>
    </section>
  );
}

interface AnswerProps {
  path: string;
  target: string;
  rule: number;
  onOther: () => void;
}

function Answer({ path, target, rule, onOther }: AnswerProps) {
  const site = useSite();
  const asked = useQuery(whyNotQuery(site.slug, { path, target, rule, ...useLens() }));
  const change = useChangeRule();
  const mend = ({ rule, tree, position, words }: Remedy) =>
    change(rule, tree, position, `Done: ${words.charAt(0).toLowerCase()}${words.slice(1)}`);
  const found = asked.data;
  return (
    <section className="why-not" aria-label="Why not" aria-busy={asked.isPending}>
      {asked.isError && <p className="field-error">{asked.error.message}</p>}
      {found && (
        <>
          <p>
            <b>{capital(found.words)}.</b>
          </p>
          {!found.shows && found.remedies.length === 0 && (
            <p className="mute">No change of a single rule would show it here through this lens.</p>
          )}
          {found.remedies.map((remedy) => (
            <Button key={remedy.words} variant="outlined" onClick={() => mend(remedy)}>
              {remedy.words}: changes {count(remedy.pages, "page")}
            </Button>
          ))}
        </>
      )}
      <Button variant="text" onClick={onOther}>
        Ask about another
      </Button>
    </section>
  );
}
