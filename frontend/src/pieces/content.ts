import type { PieceTree } from "./tree";

/** What a piece is made of: rows of cells of items, as they stand in the layout file. Pure: React knows of it, not it of React. */
export type Item = { type: string; look?: Look } & Record<string, unknown>;
export interface Look {
  space?: string;
  align?: string;
  background?: string;
  ink?: string;
  hide?: string[];
}
export interface Cell {
  items: Item[];
  width?: number;
  flow?: "stack" | "line";
  align?: "start" | "center" | "end" | "apart";
}
export interface Row {
  cells: Cell[];
}

/** Where an item stands. With `item` equal to the number of items it is the end of a cell. */
export interface Spot {
  row: number;
  cell: number;
  item: number;
}

type Content = { items?: Item[]; rows?: Row[]; style?: Record<string, string> } & Record<string, unknown>;

const contentOf = (tree: PieceTree) => (tree.content ?? {}) as Content;

/** The rows of a piece; items that stand in none are arranged as its style says. */
export function rowsOf(tree: PieceTree): Row[] {
  const content = contentOf(tree);
  if (content.rows?.length) return content.rows;
  const items = content.items ?? [];
  if (!items.length) return [];
  switch (content.style?.arrange) {
    case "columns":
      return [{ cells: items.map((item) => ({ items: [item], width: 1 })) }];
    case "row":
      return [{ cells: [{ items, flow: "line" }] }];
    case "split":
      return [{ cells: [{ items, flow: "line", align: "apart" }] }];
    default:
      return [{ cells: [{ items }] }];
  }
}

/** The piece with other rows; written short, as items and how they are arranged, where that says the same. */
export function withRows(tree: PieceTree, rows: Row[]): PieceTree {
  const { items: _items, rows: _rows, style, ...rest } = contentOf(tree);
  const { arrange, ...colours } = style ?? {};
  const items = rows.flatMap((row) => row.cells.flatMap((cell) => cell.items));
  for (const short of [arrange, undefined]) {
    const look = short ? { ...colours, arrange: short } : colours;
    const made = { ...tree, content: { ...rest, ...(items.length && { items }), ...styled(look) } };
    if (JSON.stringify(rowsOf(made)) === JSON.stringify(rows)) return made;
  }
  return { ...tree, content: { ...rest, rows, ...styled(colours) } };
}

const styled = (style: Record<string, string>) => (Object.keys(style).length ? { style } : {});

/** The JSON Pointer of an item in the content as it is written: what the rendering and the problems call it. */
export function pointerOf(tree: PieceTree, { row, cell, item }: Spot): string {
  if (contentOf(tree).rows?.length) return `/rows/${row}/cells/${cell}/items/${item}`;
  const before = rowsOf(tree)[row]?.cells.slice(0, cell) ?? [];
  return `/items/${before.reduce((sum, one) => sum + one.items.length, 0) + item}`;
}

/** Every item with where it stands, in reading order. */
export function spotsOf(rows: Row[]): { spot: Spot; item: Item }[] {
  return rows.flatMap((line, row) =>
    line.cells.flatMap((one, cell) => one.items.map((item, at) => ({ spot: { row, cell, item: at }, item }))),
  );
}

/** Whether an item shows a menu of the site. Markup asks for an item that does, or names it, with underscores. */
export function showsMenu(item: Item, slug: string): boolean {
  const named = new RegExp(`\\bmenus\\W+${slug.replaceAll("-", "_")}\\b|"menu":\\s*"${slug}"`);
  return item.menu === slug || (typeof item.code === "string" && named.test(item.code));
}

export function itemAt(rows: Row[], spot: Spot | null): Item | undefined {
  return spot ? rows[spot.row]?.cells[spot.cell]?.items[spot.item] : undefined;
}

function withCell(rows: Row[], row: number, cell: number, change: (cell: Cell) => Cell): Row[] {
  return rows.map((line, at) =>
    at === row
      ? { ...line, cells: line.cells.map((one, place) => (place === cell ? change(one) : one)) }
      : line,
  );
}

/** The rows with an item set at a place, before what stands there. */
export function inserted(rows: Row[], spot: Spot, item: Item): Row[] {
  const begun = rows.length ? rows : [{ cells: [{ items: [] }] }];
  return withCell(begun, spot.row, spot.cell, (cell) => ({
    ...cell,
    items: [...cell.items.slice(0, spot.item), item, ...cell.items.slice(spot.item)],
  }));
}

export function removed(rows: Row[], spot: Spot): Row[] {
  return withCell(rows, spot.row, spot.cell, (cell) => ({
    ...cell,
    items: cell.items.filter((_, at) => at !== spot.item),
  }));
}

export function changed(rows: Row[], spot: Spot, item: Item): Row[] {
  return withCell(rows, spot.row, spot.cell, (cell) => ({
    ...cell,
    items: cell.items.map((one, at) => (at === spot.item ? item : one)),
  }));
}

/** The rows with an item taken from one place to another, where it stands then. */
export function moved(rows: Row[], from: Spot, to: Spot): { rows: Row[]; spot: Spot } {
  const item = itemAt(rows, from);
  if (!item) return { rows, spot: from };
  return { rows: inserted(removed(rows, from), to, item), spot: to };
}

/** Where an item comes to stand one step up or down: in its cell, else in the one before or after; null at an end. */
export function oneStep(rows: Row[], { row, cell, item }: Spot, by: 1 | -1): Spot | null {
  const here = rows[row]?.cells[cell];
  if (!here) return null;
  const next = item + by;
  if (next >= 0 && next < here.items.length) return { row, cell, item: next };
  const cells = rows.flatMap((line, at) => line.cells.map((_, place) => ({ row: at, cell: place })));
  const at = cells.findIndex((one) => one.row === row && one.cell === cell) + by;
  const other = cells[at];
  if (!other) return null;
  const there = rows[other.row]?.cells[other.cell]?.items.length ?? 0;
  return { ...other, item: by > 0 ? 0 : there };
}

export function withRow(rows: Row[]): Row[] {
  return [...rows, { cells: [{ items: [] }] }];
}

export function withoutRow(rows: Row[], row: number): Row[] {
  return rows.filter((_, at) => at !== row);
}

export function rowMoved(rows: Row[], from: number, to: number): Row[] {
  const next = [...rows];
  const [taken] = next.splice(from, 1);
  if (!taken || to < 0 || to > next.length) return rows;
  next.splice(to, 0, taken);
  return next;
}

/** The row with so many cells: new ones are empty, items of those that go move into the last that stays. */
export function withCells(rows: Row[], row: number, count: number): Row[] {
  return rows.map((line, at) => {
    if (at !== row) return line;
    const cells = line.cells.slice(0, count);
    const last = cells.at(-1);
    const left = line.cells.slice(count).flatMap((cell) => cell.items);
    if (last && left.length) cells[cells.length - 1] = { ...last, items: [...last.items, ...left] };
    while (cells.length < count) cells.push({ items: [], width: 1 });
    return { ...line, cells: count > 1 ? cells.map((cell) => ({ ...cell, width: cell.width || 1 })) : cells };
  });
}

export function cellChanged(rows: Row[], row: number, cell: number, changes: Partial<Cell>): Row[] {
  return withCell(rows, row, cell, (one) => {
    const next = { ...one, ...changes };
    if (!next.width) delete next.width;
    if (next.flow === "stack") delete next.flow;
    if (next.align === "start") delete next.align;
    return next;
  });
}
