import { expect, test } from "vitest";
import {
  assigned,
  blockOf,
  blockOfArea,
  type Grid,
  namesIn,
  readGrid,
  tracksOf,
  withColumnAfter,
  withoutColumn,
  withoutGridRow,
  withRowBelow,
  writeGrid,
} from "./gridTree";

const grid = (...rows: string[]): Grid =>
  readGrid(
    { areas: rows, columns: "1fr 18rem".split(" ").slice(0, rows[0]?.split(" ").length).join(" ") },
    [],
  );
const rows = (made: Grid) => writeGrid(made).areas;

test("tracks are parted by spaces outside of parentheses", () => {
  expect(tracksOf("minmax(0, 1fr) 18rem  fit-content(2rem)")).toEqual([
    "minmax(0, 1fr)",
    "18rem",
    "fit-content(2rem)",
  ]);
});

test("what states no grid has the usual one of its slots, and ragged rows are made even", () => {
  expect(rows(readGrid({}, ["header", "footer"]))).toEqual(["header", "content", "footer"]);
  expect(rows(readGrid({ areas: ["a b", "c"] }, []))).toEqual(["a b", "c ."]);
});

test("an area goes where it is put, and what it cuts in pieces is empty", () => {
  const made = grid("header header", "content aside", "content aside");
  const all = assigned(made, blockOf({ row: 2, column: 1 }, { row: 2, column: 0 }), "footer");
  expect(rows(all)).toEqual(["header header", "content aside", "footer footer"]);
  const moved = assigned(all, { top: 0, bottom: 0, left: 1, right: 1 }, "footer");
  expect(rows(moved)).toEqual(["header footer", "content aside", ". ."]);
  const hole = assigned(grid("a a", "a a", "a a"), { top: 1, bottom: 1, left: 0, right: 0 }, "b");
  expect(rows(hole)).toEqual([". .", "b .", ". ."]);
  expect(rows(assigned(made, { top: 0, bottom: 0, left: 0, right: 1 }, "."))[0]).toBe(". .");
});

test("rows and columns come like their neighbour, and the last one stays", () => {
  const made = grid("header header", "content aside");
  expect(rows(withRowBelow(made, 1))).toEqual(["header header", "content aside", "content aside"]);
  expect(writeGrid(withColumnAfter(made, 0))).toEqual({
    areas: ["header header header", "content content aside"],
    columns: "1fr 1fr 18rem",
  });
  expect(rows(withoutColumn(withoutColumn(made, 1), 0))).toEqual(["header", "content"]);
  expect(rows(withoutGridRow(withoutGridRow(made, 0), 0))).toEqual(["content aside"]);
});

test("an area knows where it lies", () => {
  const made = grid("header header", "content aside");
  expect(blockOfArea(made, "header")).toEqual({ top: 0, bottom: 0, left: 0, right: 1 });
  expect(blockOfArea(made, "footer")).toBeUndefined();
  expect(namesIn(made)).toEqual(["header", "content", "aside"]);
});
