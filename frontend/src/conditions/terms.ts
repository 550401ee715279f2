import { answer, api, type Shapes } from "../api/client";

/** A term as the server read it. */
export type Term = Shapes["TermInfo"];
/** A term in its parts, as the server writes it. */
export type TermTree = Shapes["TermTree"];

/** A query as the sentence shows it: clauses of terms. */
export type Clauses = Term[][];

/**
 * The clauses with other terms in the place of one: none takes it away, several stand there each in a clause of its
 * own, as any of them will do; a place behind the last adds one. What is denied of several is denied of all of them.
 */
export function withTerms(
  clauses: Clauses,
  clause: number,
  place: number,
  changed: TermTree[],
): Shapes["ClauseTree"][] {
  const next: TermTree[][] = clauses.map((terms) => [...terms]);
  while (next.length <= clause) next.push([]);
  const before = (next[clause] as TermTree[]).slice(0, place);
  const after = (next[clause] as TermTree[]).slice(place + 1);
  const together = changed.length === 0 || changed.every((term) => term.negated);
  const put = together ? [changed] : changed.map((term) => [term]);
  next.splice(clause, 1, ...put.map((terms) => [...before, ...terms, ...after]));
  return next.filter((left) => left.length).map((left) => ({ terms: left.map(inParts) }));
}

/** The parts of a term that make up its text. */
const inParts = ({ fact, key, values, negated }: TermTree): TermTree => ({ fact, key, values, negated });

/** The text of clauses. The server alone knows how the language is written. */
export async function writtenText(
  site: string,
  clauses: Shapes["ClauseTree"][],
  domain: "page" | "visitor",
): Promise<string> {
  const written = await answer(
    api.POST("/api/sites/{site}/query", { params: { path: { site } }, body: { clauses, domain } }),
  );
  return written.normal;
}

/** What stands on a token: the fact and what people call its values, without the query's punctuation. */
export function tokenText(term: Term): string {
  if (term.fact === "all") return "every page";
  const fact = term.key ? `${term.fact} ${term.key}` : term.fact;
  const values = term.values.map((value, at) => (value.wild ? "anything" : (term.names[at] ?? value.text)));
  return `${term.negated ? "not " : ""}${fact} ${values.join(" or ")}`;
}

/** The facts whose values are pages. */
export const NAMING_PAGES = ["page", "within", "under", "child"];

/** The address that stands beside the title on a token; empty where it names no single page. */
export function tokenPath(term: Term): string {
  const [value, ...others] = term.values;
  return value && others.length === 0 && NAMING_PAGES.includes(term.fact) ? value.text : "";
}
