import type { Shapes } from "../api/client";
import { outcomeText } from "../parts/words";
import { bandKey, looksOf } from "./strips";

type Column = Shapes["TargetColumn"];

/** What some pages have of a target now, in words, most pages first: "Site footer on 4, nothing set on 2". */
export function standing(
  column: Column,
  numbers: Iterable<number>,
  nameOf: (slug: string) => string | undefined,
): string {
  const found = new Map<string, [string, number]>();
  for (const number of numbers) {
    const outcome = column.outcomes[column.codes[number] ?? 0];
    if (!outcome) continue;
    const key = bandKey(outcome);
    const known = found.get(key);
    if (known) known[1] += 1;
    else found.set(key, [outcomeText(outcome, nameOf), 1]);
  }
  const parts = [...found.values()].sort((a, b) => b[1] - a[1]);
  if (parts.length === 1) return parts[0]?.[0] ?? "";
  return parts.map(([text, pages]) => `${text} on ${pages}`).join(", ");
}

/** The pages that come to the same as one page does in some columns. */
export function pagesLike(columns: Column[], number: number, pages: number): number[] {
  const lookOf = looksOf(columns);
  const wanted = lookOf(number);
  return Array.from({ length: pages }, (_, page) => page).filter((page) => lookOf(page) === wanted);
}
