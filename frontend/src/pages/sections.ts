import { useMemo, useState } from "react";
import type { Tree } from "../api/queries";
import { useKept } from "../parts/memory";
import { useAddress, useInAddress, useSite } from "../parts/site";
import { type Folder, openAtFirst, wayTo } from "./tree";

/** Sections of at most so many pages stand open at first. */
const OPEN_BELOW = 12;
/** So many sections that stand otherwise than at first are told in the address. */
const MOST_TOLD = 30;

/** What tells sections of the list from each other: those of pages by number, folders by theirs, each by its path. */
export interface Sections {
  keys: number[];
  pathOf: (key: number) => string;
  keyOf: (path: string) => number | undefined;
}

/** The sections of a tree that can stand open. */
export function sectionsOf(tree: Tree, ends: number[], folders: Map<number, Folder[]>): Sections {
  const paths = new Map<number, string>();
  ends.forEach((end, number) => {
    if (end - number > 1) paths.set(number, tree.paths[number] as string);
  });
  for (const folder of [...folders.values()].flat()) paths.set(folder.key, folder.path);
  const numbers = new Map([...paths].map(([key, path]) => [path, key]));
  return {
    keys: [...paths.keys()],
    pathOf: (key) => paths.get(key) ?? "",
    keyOf: (path) => numbers.get(path),
  };
}

/** Which sections stand otherwise than at first, as the address has it: `+/a,-/b`, `all` or `none`; empty for none. */
export function tellOpen({ keys, pathOf }: Sections, first: Set<number>, open: Set<number>): string {
  const other = keys.filter((key) => first.has(key) !== open.has(key));
  if (other.length === 0) return "";
  if (keys.every((key) => open.has(key))) return "all";
  if (!keys.some((key) => open.has(key))) return "none";
  if (other.length > MOST_TOLD) return "";
  return other
    .map((key) => `${open.has(key) ? "+" : "-"}${encodeURI(pathOf(key)).replaceAll(",", "%2C")}`)
    .join();
}

/** The sections that an address says stand open. What it names and the site does not have is passed over. */
export function readOpen({ keys, keyOf }: Sections, first: Set<number>, told: string): Set<number> {
  if (told === "all") return new Set(keys);
  if (told === "none") return new Set();
  const open = new Set(first);
  for (const one of told.split(",")) {
    const key = keyOf(decoded(one.slice(1)));
    if (key === undefined) continue;
    if (one.startsWith("+")) open.add(key);
    else open.delete(key);
  }
  return open;
}

function decoded(path: string): string {
  try {
    return decodeURI(path).replaceAll("%2C", ",");
  } catch {
    return "";
  }
}

/** Which sections of the list stand open: as the address says, else as they were left, else the small ones. */
export function useSections(
  tree: Tree | undefined,
  ends: number[],
  folders: Map<number, Folder[]> | undefined,
) {
  const { get } = useAddress();
  const [stated] = useState(() => ({ path: get("path"), open: get("open") }));
  const [left, leave] = useKept<number[] | null>(`open-${useSite().inventory_version}`, null);
  const [moved, setMoved] = useState(false);
  const known = useMemo(() => {
    if (!tree || !folders) return null;
    const first = openAtFirst(tree, ends, OPEN_BELOW, folders);
    const sections = sectionsOf(tree, ends, folders);
    const said = stated.open ? readOpen(sections, first, stated.open) : null;
    return { sections, first, said, way: wayTo(tree, ends, stated.path, folders) };
  }, [tree, ends, folders, stated]);
  const open = useMemo(() => {
    if (!known) return new Set<number>();
    if (moved && left) return new Set(left);
    return new Set([...(known.said ?? left ?? known.first), ...known.way]);
  }, [known, moved, left]);
  const told = useMemo(() => {
    if (!known || (known.said && !moved)) return stated.open;
    return left ? tellOpen(known.sections, known.first, new Set(left)) : "";
  }, [known, moved, left, stated]);
  useInAddress("open", told);
  const put = (next: Iterable<number>) => {
    leave([...next]);
    setMoved(true);
  };
  const keys = known?.sections.keys ?? NO_KEYS;
  return {
    open,
    allOpen: keys.every((key) => open.has(key)),
    toggle: (key: number) => {
      const next = new Set(open);
      if (!next.delete(key)) next.add(key);
      put(next);
    },
    setAll: (all: boolean) => put(all ? keys : []),
  };
}

const NO_KEYS: number[] = [];
