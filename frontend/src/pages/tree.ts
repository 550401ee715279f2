import type { Tree } from "../api/queries";

/** One line of the page list. `closed`: it also stands for the pages below it, `number + 1` to `end - 1`. */
export interface Line {
  number: number;
  depth: number;
  hasPages: boolean;
  closed: boolean;
  end: number;
  /** Shown only because a page below it was found. */
  dim: boolean;
  /** What the line heads, where the list stands in groups: `number` is the first of them. */
  group?: { name: string; members: number[] };
}

/** A site whose one top page is its home shows what lies below it at the same level. */
function indent(tree: Tree): number {
  return tree.paths[0] === "/" && tree.depths.lastIndexOf(0) === 0 ? 1 : 0;
}

/** For each page the number after the last page below it. */
export function sectionEnds(depths: number[]): number[] {
  const ends = new Array<number>(depths.length);
  const open: number[] = [];
  depths.forEach((depth, number) => {
    while (open.length && (depths[open[open.length - 1] as number] as number) >= depth) {
      ends[open.pop() as number] = number;
    }
    open.push(number);
  });
  for (const number of open) ends[number] = depths.length;
  return ends;
}

/** The sections above a page, which have to stand open for it to be seen. */
export function wayTo(tree: Tree, ends: number[], path: string): number[] {
  const chosen = tree.paths.indexOf(path);
  return ends.flatMap((end, number) => (number < chosen && chosen < end ? [number] : []));
}

/** Sections that stand open at first: those of at most so many pages, and the way to the page of the address. */
export function openAtFirst(tree: Tree, ends: number[], most: number, path: string): Set<number> {
  const open = new Set(wayTo(tree, ends, path));
  ends.forEach((end, number) => {
    const below = end - number - 1;
    if (below > 0 && below <= most) open.add(number);
  });
  return open;
}

/** The lines of the list: sections closed unless in `open`; with `found`, only those pages and the way to them. */
export function visibleLines(
  tree: Tree,
  ends: number[],
  open: Set<number>,
  found: Set<number> | null,
): Line[] {
  const shift = indent(tree);
  const lines: Line[] = [];
  const leading = found ? above(tree.depths, found) : null;
  let number = 0;
  while (number < tree.paths.length) {
    const end = ends[number] as number;
    const hasPages = end - number > 1 && !(shift && number === 0);
    const isFound = found?.has(number) ?? true;
    if (found && !isFound && !leading?.has(number)) {
      number += 1;
      continue;
    }
    const closed = hasPages && !found && !open.has(number);
    lines.push({
      number,
      depth: Math.max(0, (tree.depths[number] as number) - shift),
      hasPages,
      closed,
      end,
      dim: !isFound,
    });
    number = closed ? end : number + 1;
  }
  return lines;
}

/** The numbers of a page and of all below it, or of a group. */
export const sectionOf = ({ number, end, group }: Line): number[] =>
  group?.members ?? Array.from({ length: end - number }, (_, after) => number + after);

/** The pages above any of these. */
export function above(depths: number[], found: Set<number>): Set<number> {
  const result = new Set<number>();
  const path: number[] = [];
  depths.forEach((depth, number) => {
    path.length = depth;
    if (found.has(number)) for (const up of path) result.add(up);
    path[depth] = number;
  });
  return result;
}
