import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import type { Shapes } from "../api/client";
import { type Tree, unlikeQuery } from "../api/queries";
import { rulesQuery } from "../api/ruleQueries";
import { useLens, useSite } from "../parts/site";
import { targetOf } from "../parts/words";
import "./marks.css";

/** What a cell is marked with, beside what it shows. */
export type MarkKind = "pinned" | "overruled" | "unlike";

interface Marked {
  kind: "pinned" | "overruled";
  about: string;
}

/** The marks of a page, by target. */
export type PageMarks = Map<string, Marked>;

const FIGURES: Record<MarkKind, string> = {
  pinned: "M5 1h4v5l2 2H3l2-2zM7 8v5",
  overruled: "M5 1h4v5l2 2H3l2-2zM7 8v5M1 2l12 10",
  unlike: "M7 2a5 5 0 1 0 0 10zM7 2a5 5 0 0 1 0 10",
};

/** What each mark means, in a few words. */
export const MEANS: Record<MarkKind, string> = {
  pinned: "pinned: this page's own choice",
  overruled: "this page's own choice is beaten",
  unlike: "not the same for everyone at any time",
};

/** A mark of a cell; nothing where there is none. */
export function Mark({
  kind,
  about = kind && MEANS[kind],
}: {
  kind: MarkKind | undefined;
  about?: string | undefined;
}) {
  if (!kind) return null;
  return (
    <span className={`cell-mark ${kind}`} title={about}>
      <svg
        width="12"
        height="12"
        viewBox="0 0 14 14"
        fill="none"
        stroke="currentColor"
        strokeWidth="1.6"
        role="img"
        aria-label={about}
      >
        <path d={FIGURES[kind]} />
      </svg>
    </span>
  );
}

type Column = Shapes["TargetColumn"];

/** Where pages have choices of their own, and whether these win: by page number, then by target. */
export function usePinMarks(tree: Tree | undefined, columns: Column[]): Map<number, PageMarks> {
  const site = useSite();
  const rules = useQuery(rulesQuery(site.slug, useLens())).data;
  return useMemo(
    () => (tree && rules ? pinMarks(tree.paths, rules, columns) : new Map()),
    [tree, rules, columns],
  );
}

/** The same, worked out. A pin that is off, or not for the lens, says nothing here. */
function pinMarks(paths: string[], rules: Shapes["RuleRow"][], columns: Column[]): Map<number, PageMarks> {
  const pins = rules.filter((row) => row.pin !== null && (row.rule.on ?? true) && row.lets_in);
  const numbers = new Map(pins.length ? paths.map((path, number) => [path, number]) : []);
  const named = new Map(rules.map((row) => [row.id, row.rule.name]));
  const found = new Map<number, PageMarks>();
  for (const pin of pins) {
    const number = numbers.get(pin.pin ?? "");
    if (number === undefined) continue;
    const marks: PageMarks = found.get(number) ?? new Map();
    found.set(number, marks);
    for (const action of pin.rule.actions ?? []) {
      const target = targetOf(action);
      const column = columns.find((one) => one.target === target);
      const by = column?.outcomes[column.codes[number] ?? 0]?.by ?? null;
      // What is added stands beside what decides.
      if (action.do === "prepend" || action.do === "append" || marks.get(target)?.kind === "pinned") continue;
      if (by === pin.id) marks.set(target, { kind: "pinned", about: `${MEANS.pinned}, by ${pin.rule.name}` });
      else if (by !== null)
        marks.set(target, {
          kind: "overruled",
          about: `${MEANS.overruled} by ${named.get(by) ?? "another rule"}`,
        });
    }
  }
  return found;
}

const NOTHING = new Map<string, Set<string>>();

/** In which targets some pages are not the same for everyone at any time, by path; asked for where that is wanted. */
export function useUnlike(paths: string[], wanted: boolean): Map<string, Set<string>> {
  const site = useSite();
  const found = useQuery({ ...unlikeQuery(site.slug, paths), enabled: wanted && paths.length > 0 }).data;
  return useMemo(
    () => (wanted && found ? new Map(found.map((row) => [row.path, new Set(row.targets)])) : NOTHING),
    [wanted, found],
  );
}
