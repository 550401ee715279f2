import { expect, test } from "vitest";
import {
  itemAt,
  moved,
  oneStep,
  pointerOf,
  removed,
  rowsOf,
  showsMenu,
  spotsOf,
  withCells,
  withRows,
} from "./content";
import type { PieceTree } from "./tree";

const item = (text: string) => ({ type: "text", text });
const piece = (content: Record<string, unknown>): PieceTree => ({ name: "Footer", kind: "footer", content });
const split = piece({ style: { arrange: "split", ink: "#fff" }, items: [item("a"), item("b")] });
const columns = piece({ style: { arrange: "columns" }, items: [item("a"), item("b")] });
const texts = (tree: PieceTree) => spotsOf(rowsOf(tree)).map(({ item: one }) => one.text);

test.each([
  [split, [{ cells: [{ items: [item("a"), item("b")], flow: "line", align: "apart" }] }]],
  [
    columns,
    [
      {
        cells: [
          { items: [item("a")], width: 1 },
          { items: [item("b")], width: 1 },
        ],
      },
    ],
  ],
  [piece({}), []],
])("items without rows are arranged as the style says", (tree, rows) => {
  expect(rowsOf(tree)).toEqual(rows);
});

test("what says the same is written as it was, all else as rows; colours stay", () => {
  expect(withRows(split, rowsOf(split))).toEqual(split);
  expect(withRows(columns, [{ cells: [{ items: [item("a")] }] }]).content).toEqual({ items: [item("a")] });
  const two = [...rowsOf(split), { cells: [{ items: [item("c")] }] }];
  expect(withRows(split, two).content).toEqual({ style: { ink: "#fff" }, rows: two });
  expect(withRows(split, []).content).toEqual({ style: { arrange: "split", ink: "#fff" } });
});

test("an item is pointed at as it is written", () => {
  expect(pointerOf(columns, { row: 0, cell: 1, item: 0 })).toBe("/items/1");
  const written = piece({ rows: rowsOf(columns) });
  expect(pointerOf(written, { row: 0, cell: 1, item: 0 })).toBe("/rows/0/cells/1/items/0");
});

test("one step leads through a cell and into the next", () => {
  const rows = rowsOf(columns);
  const down = oneStep(rows, { row: 0, cell: 0, item: 0 }, 1);
  expect(down).toEqual({ row: 0, cell: 1, item: 0 });
  expect(oneStep(rows, { row: 0, cell: 0, item: 0 }, -1)).toBeNull();
  const after = moved(rows, { row: 0, cell: 0, item: 0 }, down as never);
  expect(texts(withRows(columns, after.rows))).toEqual(["a", "b"]);
  expect(itemAt(after.rows, after.spot)).toEqual(item("a"));
  expect(after.rows[0]?.cells[0]?.items).toEqual([]);
});

test("fewer cells lose nothing", () => {
  const rows = withCells(rowsOf(columns), 0, 1);
  expect(rows[0]?.cells).toHaveLength(1);
  expect(rows[0]?.cells[0]?.items).toEqual([item("a"), item("b")]);
  expect(withCells(rows, 0, 3)[0]?.cells.map((cell) => cell.width)).toEqual([1, 1, 1]);
});

test("an item that is not there changes nothing", () => {
  const rows = rowsOf(columns);
  expect(moved(rows, { row: 3, cell: 0, item: 0 }, { row: 0, cell: 0, item: 0 }).rows).toBe(rows);
  expect(removed(rows, { row: 0, cell: 0, item: 9 })[0]?.cells[0]?.items).toEqual([item("a")]);
});

test("a menu is shown by an item, by one that markup asks for, and by its name in markup", () => {
  const markup = (code: string) => ({ type: "markup", code });
  expect(showsMenu({ type: "menu", menu: "sail-on" }, "sail-on")).toBe(true);
  expect(showsMenu(markup('{% item {"type": "menu", "menu": "sail-on"} %}'), "sail-on")).toBe(true);
  expect(showsMenu(markup("{% for one in menus.sail_on %}"), "sail-on")).toBe(true);
  expect(showsMenu(markup("{{ menus['sail_on'] }}"), "sail-on")).toBe(true);
  expect(showsMenu(markup("menus.sail_on_more, menus.other"), "sail-on")).toBe(false);
});
