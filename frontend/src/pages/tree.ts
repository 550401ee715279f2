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
  /** What the line heads, where the list stands in groups or has a folder: `number` is the first of them. */
  group?: { name: string; members: number[] };
  /** What tells a folder that is open from others. */
  folder?: number;
}

const NO_FOLDERS = new Map<number, Folder[]>();

/** A section that has no page of its own: the pages from `first` to `end`, and the path that they share. */
export interface Folder {
  /** What stands for it among the open sections, which are told by the numbers of their pages. */
  key: number;
  first: number;
  end: number;
  path: string;
}

/** The folders of a tree, by the number of their first page, the outer ones first. */
export function foldersOf(tree: Tree, ends: number[]): Map<number, Folder[]> {
  const found = new Map<number, Folder[]>();
  let made = 0;
  const missing = (number: number, above: string) => {
    const path = tree.paths[number] ?? "";
    return path.startsWith(`${above}/`)
      ? path
          .slice(above.length + 1)
          .split("/")
          .slice(0, -1)
      : [];
  };
  /** Neighbours that share a missing section, from one level of it down. */
  const gather = (pages: number[], above: string, level: number) => {
    for (let at = 0; at < pages.length; ) {
      const way = missing(pages[at] as number, above).slice(0, level + 1);
      let next = at + 1;
      while (next < pages.length && alike(missing(pages[next] as number, above), way)) next += 1;
      if (way.length > level && next - at > 1) {
        const first = pages[at] as number;
        const end = ends[pages[next - 1] as number] as number;
        made += 1;
        const folder = { key: -made, first, end, path: `${above}/${way.join("/")}` };
        found.set(first, [...(found.get(first) ?? []), folder]);
        gather(pages.slice(at, next), above, level + 1);
      }
      at = next;
    }
  };
  const below = new Map<number, number[]>();
  const open: number[] = [];
  tree.depths.forEach((depth, number) => {
    open.length = depth;
    const parent = open.at(-1) ?? -1;
    const siblings = below.get(parent);
    if (siblings) siblings.push(number);
    else below.set(parent, [number]);
    open.push(number);
  });
  for (const [parent, pages] of below) {
    const path = parent < 0 ? "" : (tree.paths[parent] ?? "");
    gather(pages, path === "/" ? "" : path, 0);
  }
  return found;
}

const alike = (way: string[], start: string[]) =>
  start.length > 0 && start.every((segment, at) => way[at] === segment);

/** A site whose one top page is its home shows what lies below it at the same level. */
function indent(tree: Tree): number {
  return tree.paths[0] === "/" && tree.depths.lastIndexOf(0) === 0 ? 1 : 0;
}

/** The titles that several pages have: these are told apart by where they are. */
export function sharedTitles(titles: string[]): Set<string> {
  const seen = new Set<string>();
  return new Set(titles.filter((title) => seen.has(title) || !seen.add(title)));
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

/** The sections and folders above a page, which have to stand open for it to be seen. */
export function wayTo(
  tree: Tree,
  ends: number[],
  path: string,
  folders: Map<number, Folder[]> = NO_FOLDERS,
): number[] {
  const chosen = tree.paths.indexOf(path);
  const leading = [...folders.values()].flat().filter((one) => one.first <= chosen && chosen < one.end);
  return [
    ...ends.flatMap((end, number) => (number < chosen && chosen < end ? [number] : [])),
    ...leading.map((folder) => folder.key),
  ];
}

/** Sections that stand open at first: those of at most so many pages, and one that holds all of them. */
export function openAtFirst(
  tree: Tree,
  ends: number[],
  most: number,
  folders: Map<number, Folder[]>,
): Set<number> {
  // A home page is never closed.
  const whole = indent(tree) ? Number.NaN : ends.length;
  const open = new Set<number>();
  for (const folder of [...folders.values()].flat()) {
    const size = folder.end - folder.first;
    if (size <= most || size === whole) open.add(folder.key);
  }
  ends.forEach((end, number) => {
    const below = end - number - 1;
    if (below > 0 && (below <= most || below + 1 === whole)) open.add(number);
  });
  return open;
}

/** The pages of folders; the same list each time, as what they come to is kept by it. */
const held = new WeakMap<Folder, number[]>();

function membersOf(folder: Folder): number[] {
  const known = held.get(folder);
  if (known) return known;
  const made = Array.from({ length: folder.end - folder.first }, (_, after) => folder.first + after);
  held.set(folder, made);
  return made;
}

/** The lines of the list: sections closed unless in `open`; with `found`, only those pages and the way to them. */
export function visibleLines(
  tree: Tree,
  ends: number[],
  open: Set<number>,
  found: Set<number> | null,
  folders: Map<number, Folder[]> = NO_FOLDERS,
): Line[] {
  const shift = indent(tree);
  const lines: Line[] = [];
  const leading = found ? above(tree.depths, found) : null;
  /** Where the folders end that stand open here. */
  const within: number[] = [];
  let number = 0;
  while (number < tree.paths.length) {
    while (within.length && (within.at(-1) as number) <= number) within.pop();
    const depth = Math.max(0, (tree.depths[number] as number) - shift);
    const shut = (folders.get(number) ?? []).find((folder) => {
      const members = found ? membersOf(folder).filter((one) => found.has(one)) : membersOf(folder);
      if (members.length === 0) return false;
      const closed = !found && !open.has(folder.key);
      lines.push({
        number,
        depth: depth + within.length,
        hasPages: true,
        closed,
        end: folder.end,
        dim: found !== null,
        group: { name: folder.path, members },
        folder: folder.key,
      });
      if (!closed) within.push(folder.end);
      return closed;
    });
    if (shut) {
      number = shut.end;
      continue;
    }
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
      depth: depth + within.length,
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
