import { useMemo, useRef } from "react";
import type { Tree } from "../api/queries";
import { useKept } from "../parts/memory";
import type { Line } from "./tree";

/** Picked rows; with Shift everything from the row picked last. They stay picked while other views are looked at. */
export function usePicks(tree: Tree | undefined, lines: Line[]) {
  const [paths, setPaths] = useKept<string[]>("picked", []);
  const last = useRef<number | null>(null);
  const picked = useMemo(() => {
    if (!tree || paths.length === 0) return new Set<number>();
    const wanted = new Set(paths);
    return new Set(tree.paths.flatMap((path, number) => (wanted.has(path) ? [number] : [])));
  }, [tree, paths]);
  const put = (next: Set<number>) =>
    setPaths([...next].sort((a, b) => a - b).map((number) => tree?.paths[number] as string));
  const pick = (number: number, upTo: boolean) => {
    const visible = lines.map((line) => line.number);
    const next = new Set(picked);
    const from = last.current === null ? -1 : visible.indexOf(last.current);
    const to = visible.indexOf(number);
    if (upTo && from >= 0 && to >= 0) {
      for (const between of visible.slice(Math.min(from, to), Math.max(from, to) + 1)) next.add(between);
    } else if (!next.delete(number)) {
      next.add(number);
    }
    last.current = number;
    put(next);
  };
  const known = useMemo(() => [...picked].map((number) => tree?.paths[number] as string), [picked, tree]);
  /** Pick all of some pages beside those that are; where they all are already, drop them. */
  const pickAll = (numbers: number[]) => {
    const next = new Set(picked);
    const all = numbers.every((number) => next.has(number));
    for (const number of numbers) {
      if (all) next.delete(number);
      else next.add(number);
    }
    put(next);
  };
  const add = (numbers: number[]) => put(new Set([...picked, ...numbers]));
  return { picked, paths: known, pick, pickAll, add, drop: () => setPaths([]) };
}
