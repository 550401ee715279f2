import { describe, expect, it } from "vitest";
import type { Shapes } from "../api/client";
import type { Tree } from "../api/queries";
import { readOpen, sectionsOf, tellOpen } from "./sections";
import { ColumnCells } from "./strips";
import { foldersOf, openAtFirst, sectionEnds, sharedTitles, visibleLines, wayTo } from "./tree";

it("tells which titles several pages have", () => {
  expect(sharedTitles(["Home", "Fares", "Crew", "Fares", "Fares", "Crew"])).toEqual(
    new Set(["Fares", "Crew"]),
  );
  expect(sharedTitles(["Home", "Fares"])).toEqual(new Set());
});

/** / with /a (/a/b, /a/c), /d and /e (/e/f). */
const TREE: Tree = {
  paths: ["/", "/a", "/a/b", "/a/c", "/d", "/e", "/e/f"],
  titles: ["Home", "A", "B", "C", "D", "E", "F"],
  kinds: Array(7).fill("single"),
  types: Array(7).fill(""),
  depths: [0, 1, 2, 2, 1, 1, 2],
};
const ENDS = sectionEnds(TREE.depths);
const show = (open: number[], found: number[] | null = null) =>
  visibleLines(TREE, ENDS, new Set(open), found && new Set(found));

const outcome = (state: "filled" | "empty" | "unset", ...pieces: string[]): Shapes["OutcomeInfo"] => ({
  state,
  pieces,
  by: 1,
  value: null,
  own_at: null,
});
const column = (codes: number[]): Shapes["TargetColumn"] => ({
  target: "header",
  codes,
  outcomes: [
    outcome("filled", "main"),
    outcome("filled", "slim"),
    outcome("empty"),
    { ...outcome("filled", "main"), by: 2 },
  ],
  unseated: [4],
  locks: [],
});

describe("the tree", () => {
  it("knows where each section ends", () => {
    expect(ENDS).toEqual([7, 4, 3, 4, 5, 7, 7]);
    expect(sectionEnds([])).toEqual([]);
  });

  it("shows a closed section as one line that stands for its pages", () => {
    const lines = show([0]);
    expect(lines.map((line) => TREE.paths[line.number])).toEqual(["/", "/a", "/d", "/e"]);
    expect(lines[1]).toMatchObject({ closed: true, hasPages: true, end: 4 });
  });

  it("shows the pages below the home page at its own level", () => {
    expect(show([0, 1, 5]).map((line) => line.depth)).toEqual([0, 0, 1, 1, 0, 0, 1]);
  });

  it("shows what is found and the way there, dimmed", () => {
    const lines = show([], [3]);
    expect(lines.map((line) => [TREE.paths[line.number], line.dim, line.closed])).toEqual([
      ["/", true, false],
      ["/a", true, false],
      ["/a/c", false, false],
    ]);
    expect(show([], [])).toEqual([]);
  });

  it("opens small sections at first, and the way to the page of the address", () => {
    expect([...openAtFirst(TREE, ENDS, 1, new Map())]).toEqual([5]);
    expect(wayTo(TREE, ENDS, "/a/c")).toEqual([0, 1]);
  });

  it("opens a page or a folder that holds all others at first", () => {
    const below = (paths: string[], depths: number[]) => ({ ...TREE, paths, depths });
    const manual = below(["/manual", "/manual/a", "/manual/b", "/manual/b/c"], [0, 1, 1, 2]);
    expect([...openAtFirst(manual, sectionEnds(manual.depths), 0, new Map())]).toEqual([0]);
    const folder = below(["/guide/a", "/guide/b"], [0, 0]);
    const ends = sectionEnds(folder.depths);
    const folders = foldersOf(folder, ends);
    expect([...openAtFirst(folder, ends, 0, folders)]).toEqual([folders.get(0)?.[0]?.key]);
  });

  it("says in the address which sections stand otherwise than at first, and reads it again", () => {
    const sections = sectionsOf(TREE, ENDS, new Map());
    const first = openAtFirst(TREE, ENDS, 1, new Map());
    const told = (...open: number[]) => tellOpen(sections, first, new Set(open));
    expect([told(5), told(1, 5), told(1), told(0, 1, 5), told()]).toEqual([
      "",
      "+/a",
      "+/a,-/e",
      "all",
      "none",
    ]);
    for (const open of [[5], [1, 5], [1], [0, 1, 5], []]) {
      expect([...readOpen(sections, first, told(...open))].sort()).toEqual(open);
    }
    expect([...readOpen(sections, first, "+/gone,-/%zz,nonsense")]).toEqual([5]);
  });
});

describe("the strips", () => {
  it("join where neighbours show the same, whichever rule decided", () => {
    const cells = new ColumnCells(column([0, 3, 1, 1, 2, 2, 0]));
    const lines = show([0, 1, 5]);
    const joins = lines.slice(1).map((line, place) => cells.joins(lines[place], line));
    expect(joins).toEqual([true, false, true, false, true, false]);
    expect(cells.joins(undefined, lines[0])).toBe(false);
    expect(cells.unseated.has(4)).toBe(true);
  });

  it("sum up a closed section, the most frequent first", () => {
    const cells = new ColumnCells(column([0, 0, 1, 1, 0, 2, 2]));
    const lines = show([0]);
    expect(cells.at(lines[1] as never)).toMatchObject({
      kind: "mix",
      parts: [
        [{ pieces: ["slim"] }, 2],
        [{ pieces: ["main"] }, 1],
      ],
    });
    expect(cells.at(lines[3] as never)).toMatchObject({ kind: "one", outcome: { state: "empty" } });
  });
});

describe("sections without a page", () => {
  const tree: Tree = {
    paths: ["/", "/a", "/old/x/1", "/old/x/2", "/old/y", "/b/c", "/a9"],
    titles: ["Home", "A", "One", "Two", "Y", "C", "A9"],
    kinds: Array(7).fill("single"),
    types: Array(7).fill(""),
    depths: [0, 1, 1, 1, 1, 1, 1],
  };
  const ends = sectionEnds(tree.depths);
  const folders = foldersOf(tree, ends);
  const [outer, inner] = [...folders.values()].flat().map((folder) => folder.key) as [number, number];
  const lines = (open: number[], found: number[] | null = null) =>
    visibleLines(tree, ends, new Set(open), found && new Set(found), folders).map(
      (line) =>
        `${" ".repeat(line.depth)}${line.group ? `${line.group.name} ${line.group.members}` : line.number}`,
    );

  it("stand as folders where two pages or more share them, the outer ones first", () => {
    expect([...folders].map(([first, made]) => [first, made.map((one) => one.path)])).toEqual([
      [2, ["/old", "/old/x"]],
    ]);
    expect(lines([])).toEqual(["0", "1", "/old 2,3,4", "5", "6"]);
    expect(lines([outer])).toEqual(["0", "1", "/old 2,3,4", " /old/x 2,3", " 4", "5", "6"]);
    expect(lines([outer, inner])).toEqual([
      "0",
      "1",
      "/old 2,3,4",
      " /old/x 2,3",
      "  2",
      "  3",
      " 4",
      "5",
      "6",
    ]);
  });

  it("open to what is found and to the page that an address names", () => {
    expect(lines([], [3])).toEqual(["0", "/old 3", " /old/x 3", "  3"]);
    expect(wayTo(tree, ends, "/old/x/2", folders)).toEqual([0, outer, inner]);
  });
});
