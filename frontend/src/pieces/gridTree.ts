/** The grid of a template at one width: rows of area names, `.` for none, and a track for each column (CSS Grid). */
export interface Grid {
  areas: string[][];
  columns: string[];
}
/** A block of cells, both ends included. */
export interface Block {
  top: number;
  left: number;
  bottom: number;
  right: number;
}

export const NONE = ".";
const TRACK = "minmax(0, 1fr)";

/** The tracks of a list; spaces inside of parentheses part nothing. */
export function tracksOf(columns: string): string[] {
  return columns.match(/(?:[^\s(]|\([^)]*\))+/g) ?? [];
}

/** The grid that a content states; the usual one where it states none. */
export function readGrid(content: Record<string, unknown>, slots: string[]): Grid {
  const stated = Array.isArray(content.areas)
    ? content.areas.map((row) => String(row).trim().split(/\s+/))
    : [];
  const usual = ["header", "title", "content", "footer"].filter(
    (one) => one === "content" || slots.includes(one),
  );
  const areas = stated.length ? stated : usual.map((name) => [name]);
  const across = Math.max(...areas.map((row) => row.length));
  const columns = tracksOf(String(content.columns ?? ""));
  return {
    areas: areas.map((row) => Array.from({ length: across }, (_, at) => row[at] ?? NONE)),
    columns: Array.from({ length: across }, (_, at) => columns[at] ?? TRACK),
  };
}

export function writeGrid({ areas, columns }: Grid): { areas: string[]; columns: string } {
  return { areas: areas.map((row) => row.join(" ")), columns: columns.join(" ") };
}

export function blockOf(a: { row: number; column: number }, b: { row: number; column: number }): Block {
  return {
    top: Math.min(a.row, b.row),
    bottom: Math.max(a.row, b.row),
    left: Math.min(a.column, b.column),
    right: Math.max(a.column, b.column),
  };
}

const inside = (block: Block, row: number, column: number) =>
  row >= block.top && row <= block.bottom && column >= block.left && column <= block.right;

/** Where an area lies; undefined for one that is not there. */
export function blockOfArea({ areas }: Grid, name: string): Block | undefined {
  const cells = areas.flatMap((row, at) =>
    row.flatMap((one, column) => (one === name ? [{ row: at, column }] : [])),
  );
  const first = cells[0];
  if (!first) return undefined;
  return cells.reduce<Block>(
    (block, { row, column }) => ({
      top: Math.min(block.top, row),
      bottom: Math.max(block.bottom, row),
      left: Math.min(block.left, column),
      right: Math.max(block.right, column),
    }),
    { top: first.row, bottom: first.row, left: first.column, right: first.column },
  );
}

const isBlock = (grid: Grid, name: string) => {
  const block = blockOfArea(grid, name);
  if (!block) return true;
  const size = (block.bottom - block.top + 1) * (block.right - block.left + 1);
  return grid.areas.flat().filter((one) => one === name).length === size;
};

const mapped = (grid: Grid, change: (name: string, row: number, column: number) => string): Grid => ({
  ...grid,
  areas: grid.areas.map((row, at) => row.map((name, column) => change(name, at, column))),
});

/**
 * The grid with an area in a block of cells. It lies nowhere else then; what is left of another area stays where it is
 * still one rectangle, and is empty where it is not.
 */
export function assigned(grid: Grid, block: Block, name: string): Grid {
  const made = mapped(grid, (known, row, column) =>
    inside(block, row, column) ? name : known === name && name !== NONE ? NONE : known,
  );
  const broken = new Set(made.areas.flat().filter((one) => one !== NONE && !isBlock(made, one)));
  return mapped(made, (known) => (broken.has(known) ? NONE : known));
}

/** The grid with one more row below a row, which it is like. */
export function withRowBelow(grid: Grid, row: number): Grid {
  return { ...grid, areas: grid.areas.flatMap((one, at) => (at === row ? [one, [...one]] : [one])) };
}

export function withoutGridRow(grid: Grid, row: number): Grid {
  return grid.areas.length < 2 ? grid : { ...grid, areas: grid.areas.filter((_, at) => at !== row) };
}

/** The grid with one more column after a column, which it is like. */
export function withColumnAfter(grid: Grid, column: number): Grid {
  const doubled = <T>(list: T[]) => list.flatMap((one, at) => (at === column ? [one, one] : [one]));
  return { areas: grid.areas.map(doubled), columns: doubled(grid.columns) };
}

export function withoutColumn(grid: Grid, column: number): Grid {
  if (grid.columns.length < 2) return grid;
  const less = <T>(list: T[]) => list.filter((_, at) => at !== column);
  return { areas: grid.areas.map(less), columns: less(grid.columns) };
}

/** The names of the areas, in reading order. */
export function namesIn({ areas }: Grid): string[] {
  return [...new Set(areas.flat())].filter((name) => name !== NONE);
}
