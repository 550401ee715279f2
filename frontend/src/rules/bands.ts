import type { Shapes } from "../api/client";

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
} as const;
export type Filter = keyof typeof FILTERS;

export function fits(row: Row, filter: Filter, findings: number): boolean {
  const on = row.rule.on ?? true;
  switch (filter) {
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
