import type { Shapes } from "../api/client";
import type { Group } from "./groups";

export type Row = Shapes["RuleRow"];

/** Rules of one priority, in the order in which they win. */
export interface Band {
  priority: number;
  rules: Row[];
}

export const priorityOf = (row: Row) => row.rule.priority ?? 0;

/** The rules as they win: by priority, then by their place in the list. */
export function inOrder(rules: Row[]): Row[] {
  return [...rules].sort((a, b) => priorityOf(b) - priorityOf(a) || a.position - b.position);
}

/** Rules in order, those of one priority together. */
export function bandsOf(ordered: Row[]): Band[] {
  const bands: Band[] = [];
  for (const row of ordered) {
    const last = bands.at(-1);
    if (last && last.priority === priorityOf(row)) last.rules.push(row);
    else bands.push({ priority: priorityOf(row), rules: [row] });
  }
  return bands;
}

/** A priority as a band is headed: "+10, above the usual", "0, the usual". */
export function bandName(priority: number): string {
  if (priority === 0) return "Priority 0, the usual";
  return priority > 0 ? `Priority +${priority}` : `Priority −${-priority}, below the usual`;
}

/** What the list can be narrowed to, beside words. */
export const FILTERS = {
  all: "all rules",
  now: "in force through this lens",
  wins: "winning somewhere",
  loses: "never winning",
  off: "switched off",
  findings: "with findings",
  edited: "edited since live",
} as const;
/** One of these; `by NAME`: edited by somebody since the site went live; `in NAME`: in a group of one's own. */
export type Filter = string;

/** Who edited which rules since the site went live, by the rule's id; what was taken back counts for nothing. */
export function editorsOf(edits: Shapes["EditRow"][]): Map<number, Set<string>> {
  const found = new Map<number, Set<string>>();
  for (const edit of edits) {
    if (edit.undone) continue;
    for (const part of edit.parts) {
      const number = Number(part.match(/^(?:rule|place)\/(\d+)$/)?.[1]);
      if (number) found.set(number, (found.get(number) ?? new Set()).add(edit.by ?? "the program"));
    }
  }
  return found;
}

/** What the list can be narrowed to: the usual, one's own groups, then the people who edited something. */
export function filtersOf(editors: Map<number, Set<string>>, groups: Group[]): [Filter, string][] {
  const people = [...new Set([...editors.values()].flatMap((names) => [...names]))].sort();
  return [
    ...Object.entries(FILTERS),
    ...groups.map(({ name }): [Filter, string] => [`in ${name}`, `in your group ${name}`]),
    ...people.map((name): [Filter, string] => [`by ${name}`, `edited by ${name} since live`]),
  ];
}

/** What is known of a rule besides what the list of rules tells. */
interface Known {
  findings: number;
  editors: Set<string> | undefined;
  groups: string[];
}

export function fits(row: Row, filter: Filter, { findings, editors, groups }: Known): boolean {
  const on = row.rule.on ?? true;
  if (filter.startsWith("in ")) return groups.includes(filter.slice(3));
  if (filter.startsWith("by ")) return editors?.has(filter.slice(3)) ?? false;
  switch (filter) {
    case "edited":
      return editors !== undefined;
    case "now":
      return on && row.lets_in;
    case "wins":
      return row.wins > 0;
    case "loses":
      return on && row.lets_in && row.wins === 0;
    case "off":
      return !on;
    case "findings":
      return findings > 0;
    default:
      return true;
  }
}
