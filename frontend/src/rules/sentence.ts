import type { Shapes } from "../api/client";

/** A value as it has to stand in a query. */
export function quoted(value: string): string {
  return /[\s,|"]/.test(value) || value.startsWith("-") || value === ""
    ? `"${value.replaceAll("\\", "\\\\").replaceAll('"', '\\"')}"`
    : value;
}

export type Term = Shapes["TermInfo"];

/** A query as the sentence shows it: clauses of terms. */
export type Clauses = Term[][];

/** A term's own text, from its parts. */
export function termText(fact: string, values: string[], negated: boolean, key = ""): string {
  const sign = negated ? "-" : "";
  if (fact === "all") return `${sign}all`;
  return `${sign}${key ? `${fact}.${key}` : fact}:${values.map(quoted).join(",")}`;
}

const signed = (term: Term) => `${term.negated ? "-" : ""}${term.text}`;

/** The query text of clauses of term texts; clauses left without a term go. */
export function queryText(clauses: string[][]): string {
  return clauses
    .filter((clause) => clause.length)
    .map((clause) => clause.join(" "))
    .join(" | ");
}

const texts = (clauses: Clauses) => clauses.map((clause) => clause.map(signed));

/** Put a term in the place of another, or take it away (null). A place behind the last term adds one. */
export function withTerm(clauses: Clauses, clause: number, place: number, text: string | null): string {
  const next = texts(clauses);
  while (next.length <= clause) next.push([]);
  const terms = next[clause] as string[];
  if (text === null) terms.splice(place, 1);
  else terms[place] = text;
  return queryText(next);
}

/** What stands on a token: the fact and its values, without the query's punctuation. */
export function tokenText(term: Term): string {
  if (term.fact === "all") return "every page";
  const fact = term.key ? `${term.fact} ${term.key}` : term.fact;
  return `${term.negated ? "not " : ""}${fact} ${term.values.join(" or ")}`;
}
