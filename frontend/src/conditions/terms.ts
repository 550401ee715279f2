import { answer, api, type Shapes } from "../api/client";

/** A term as the server read it. */
export type Term = Shapes["TermInfo"];
/** A term in its parts, as the server writes it. */
export type TermTree = Shapes["TermTree"];

/** A query as the sentence shows it: clauses of terms. */
export type Clauses = Term[][];

/** The clauses with a term put in the place of another, or taken away (null); a place behind the last adds one. */
export function withTerm(
  clauses: Clauses,
  clause: number,
  place: number,
  term: TermTree | null,
): Shapes["ClauseTree"][] {
  const next: TermTree[][] = clauses.map((terms) => [...terms]);
  while (next.length <= clause) next.push([]);
  const terms = next[clause] as TermTree[];
  if (term) terms[place] = term;
  else terms.splice(place, 1);
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

/** What stands on a token: the fact and its values, without the query's punctuation. */
export function tokenText(term: Term): string {
  if (term.fact === "all") return "every page";
  const fact = term.key ? `${term.fact} ${term.key}` : term.fact;
  const values = term.values.map((value) => (value.wild ? "anything" : value.text)).join(" or ");
  return `${term.negated ? "not " : ""}${fact} ${values}`;
}
