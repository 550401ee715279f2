import { useState } from "react";
import { Link } from "react-router";
import type { Shapes } from "../api/client";
import { useLinkTo } from "../parts/site";
import { targetName } from "../parts/words";

type ReachPage = Shapes["ReachPage"];
type Terms = Shapes["ReachInfo"]["terms"];

interface Props {
  page: ReachPage;
  terms: Terms;
  saved: boolean;
  /** Whether the term that is pointed at holds here; undefined where none is. */
  lit?: boolean | undefined;
  /** Whether it stands open, as something that was asked for. */
  asked?: boolean;
  /** That of its button, where it is a line of a list; see `useLines`. */
  tabIndex?: number;
}

/** What a page of the reach is told apart by: one that was excluded may be one that is gone, too. */
export const keyOf = (page: ReachPage) => `${page.standing} ${page.path}`;

/** A page and what becomes of the rule there; opened, it is tested against the rule term by term. */
export function ReachRow({ page, terms, saved, lit, asked = false, tabIndex }: Props) {
  const [open, setOpen] = useState(asked);
  const look = lit === undefined ? "" : lit ? "lit" : "unlit";
  return (
    <div className={`reach-page ${look}`} data-line={keyOf(page)}>
      <div className="reach-row">
        <button
          type="button"
          className="plain clip reached"
          tabIndex={tabIndex}
          aria-expanded={open}
          title={`${page.title} ${page.path}: test it, term by term`}
          onClick={() => setOpen(!open)}
        >
          {page.title} <span className="mono mute">{page.path}</span>
          {page.new && saved && (
            <>
              {" "}
              <span className="tag new">new</span>
            </>
          )}
        </button>
        <Fate page={page} />
      </div>
      {open && <TestedPage page={page} terms={terms} />}
    </div>
  );
}

/** What becomes of the rule on a page, in a word or two. */
function Fate({ page }: { page: ReachPage }) {
  const { fates } = page;
  const [first, ...others] = fates;
  if (!first)
    return <Told tone={page.standing === "reached" ? "lose" : "against"} words={standingOf(page)} />;
  const words = fateOf(first);
  if (others.every((one) => fateOf(one) === words)) return <Told tone={toneOf(first.fate)} words={words} />;
  const winning = fates.filter((one) => toneOf(one.fate) === "win").length;
  const details = fates.map((one) => `${targetName(one.target)}: ${fateOf(one)}`).join(" · ");
  return (
    <Told tone={winning ? "win" : "lose"} words={`wins ${winning} of ${fates.length}`} title={details} />
  );
}

function Told({ tone, words, title = words }: { tone: string; words: string; title?: string }) {
  return (
    <span className={`tag clip ${tone}`} title={title}>
      {words}
    </span>
  );
}

const PARTS = [
  { part: "include", leads: ["On pages", "or"] },
  { part: "exclude", leads: ["but not on", "nor on"] },
] as const;

/** A page against a rule: each term with whether it holds, then what becomes of each thing the rule does. */
function TestedPage({ page, terms }: { page: ReachPage; terms: Terms }) {
  const linkTo = useLinkTo();
  const holds = new Set(page.holds);
  const placed = terms.map((term, at) => ({ ...term, holds: holds.has(at) }));
  return (
    <div className="tested">
      {PARTS.map(({ part, leads }) =>
        clausesOf(placed.filter((term) => term.part === part)).map((clause, number) => (
          <div key={`${part} ${clause[0]?.clause}`} className="tested-clause">
            <span className="mute">{number ? leads[1] : leads[0]}</span>
            {clause.map((term) => (
              <span
                key={term.place}
                className={`tag ${!term.holds ? "lose" : part === "include" ? "win" : "against"}`}
              >
                {term.holds ? "✓ yes" : "✗ no"}: {term.words}
              </span>
            ))}
          </div>
        )),
      )}
      {page.fates.length > 0 && (
        <ul>
          {alike(page.fates).map(([told, targets]) => (
            <li key={told}>
              {targets.map(targetName).join(", ")}: {told}
            </li>
          ))}
        </ul>
      )}
      <Link to={linkTo("pages", { path: page.path, target: page.fates[0]?.target ?? "" })}>
        See it in Pages
      </Link>
    </div>
  );
}

/** What becomes of targets, those of which the same becomes together. */
function alike(fates: ReachPage["fates"]): [string, string[]][] {
  const found = new Map<string, string[]>();
  for (const one of fates) found.set(fateOf(one), [...(found.get(fateOf(one)) ?? []), one.target]);
  return [...found];
}

function clausesOf<T extends { clause: number }>(terms: T[]): T[][] {
  const clauses = new Map<number, T[]>();
  for (const term of terms) clauses.set(term.clause, [...(clauses.get(term.clause) ?? []), term]);
  return [...clauses.values()];
}

function toneOf(fate: Shapes["FateInfo"]["fate"]): string {
  return fate === "wins" || fate === "adds" ? "win" : "lose";
}

function standingOf(page: ReachPage): string {
  if (page.standing === "excluded") return `excluded: ${page.clause}`;
  if (page.standing === "gone") return "gone since saved";
  return page.standing === "reached" ? "reached" : "not reached";
}

function fateOf({ fate, by, on }: Shapes["FateInfo"]): string {
  switch (fate) {
    case "unplaced":
      return "no place here";
    case "outranked":
      return `outranked by ${by} on ${on}`;
    case "cleared":
      return `dropped by ${by}`;
    case "locked":
      return "locked here";
    case "idle":
      return "reached";
    default:
      return fate;
  }
}
