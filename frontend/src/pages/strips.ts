import type { Shapes } from "../api/client";
import { ownerOf } from "../facts/factsTree";
import { type Line, sectionOf } from "./tree";

type Column = Shapes["TargetColumn"];
type Outcome = Shapes["OutcomeInfo"];

/** What a cell shows: one outcome, or for a closed section several, each with its number of pages. */
export type Cell =
  | { kind: "one"; outcome: Outcome; code: number }
  | { kind: "mix"; parts: [Outcome, number][] };

/** What makes neighbouring cells one strip: what a visitor sees, whichever rule decided it. */
export function bandKey(outcome: Outcome): string {
  return `${outcome.state} ${outcome.pieces.join("+")} ${outcome.value ?? ""}`;
}

/** Tells pages apart by what they come to in some columns: equal texts are equal looks. */
export function looksOf(columns: Column[]): (page: number) => string {
  const keys = columns.map((column) => column.outcomes.map(bandKey));
  return (page) => columns.map((column, at) => keys[at]?.[column.codes[page] ?? 0]).join("|");
}

/** Reads cells of one column; the sums of closed sections are kept, as they are asked for on every redraw. */
export class ColumnCells {
  private readonly keys: string[];
  private readonly sums = new Map<number | number[], Cell>();
  readonly unseated: Set<number>;
  private readonly owners: Map<number, string>;

  constructor(readonly column: Column) {
    this.keys = column.outcomes.map(bandKey);
    this.unseated = new Set(column.unseated);
    this.owners = new Map(column.locks.map((lock) => [lock.page, ownerOf(lock)]));
  }

  private one(number: number): Cell {
    const code = this.column.codes[number] ?? 0;
    return { kind: "one", outcome: this.column.outcomes[code] as Outcome, code };
  }

  /** Who owns the place on a page where it is locked, and why; empty where that is not told. */
  owner(number: number): string {
    return this.owners.get(number) ?? "";
  }

  at(line: Line): Cell {
    if (!line.closed && !line.group) return this.one(line.number);
    const key = line.group?.members ?? line.number;
    const known = this.sums.get(key);
    if (known) return known;
    const sum = this.sum(line);
    this.sums.set(key, sum);
    return sum;
  }

  private sum(line: Line): Cell {
    const parts = new Map<string, [Outcome, number]>();
    for (const number of sectionOf(line)) {
      const code = this.column.codes[number] ?? 0;
      const key = this.keys[code] ?? "";
      const part = parts.get(key);
      if (part) part[1] += 1;
      else parts.set(key, [this.column.outcomes[code] as Outcome, 1]);
    }
    if (parts.size === 1) return this.one(line.number);
    return { kind: "mix", parts: [...parts.values()].sort((a, b) => b[1] - a[1]) };
  }

  /** Whether two lines, one below the other, show one strip. */
  joins(upper: Line | undefined, lower: Line | undefined): boolean {
    if (!upper || !lower) return false;
    const a = this.at(upper);
    const b = this.at(lower);
    return a.kind === "one" && b.kind === "one" && bandKey(a.outcome) === bandKey(b.outcome);
  }
}
