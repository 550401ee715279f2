/** A named area of a grid, as parts of its width and height. */
export interface Box {
  name: string;
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Rows of a grid that are drawn higher than others, as they hold the content. */
const CONTENT_ROWS = 3;
const PLAIN = ["header", "title", "content", "footer"];

/** Where the areas of a template lie (CSS Grid template areas); rows with the content count for three. */
export function areaBoxes(areas: unknown): Box[] {
  const stated = Array.isArray(areas) && areas.length ? areas.map((row) => String(row).split(" ")) : null;
  const rows = stated ?? PLAIN.map((name) => [name]);
  const across = rows[0]?.length ?? 1;
  const heights = rows.map((row) => (row.includes("content") ? CONTENT_ROWS : 1));
  const total = heights.reduce((sum, height) => sum + height, 0);
  const boxes = new Map<string, { left: number; right: number; top: number; bottom: number }>();
  let y = 0;
  rows.forEach((row, at) => {
    const bottom = y + (heights[at] ?? 1);
    row.forEach((name, x) => {
      if (name === ".") return;
      const known = boxes.get(name) ?? { left: x, right: x + 1, top: y, bottom };
      boxes.set(name, {
        left: Math.min(known.left, x),
        right: Math.max(known.right, x + 1),
        top: known.top,
        bottom: Math.max(known.bottom, bottom),
      });
    });
    y = bottom;
  });
  return [...boxes].map(([name, box]) => ({
    name,
    x: box.left / across,
    y: box.top / total,
    width: (box.right - box.left) / across,
    height: (box.bottom - box.top) / total,
  }));
}
