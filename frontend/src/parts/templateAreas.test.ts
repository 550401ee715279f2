import { expect, test } from "vitest";
import { areaBoxes } from "./templateAreas";

test("areas lie where their rows put them, and the rows of the content are the highest", () => {
  const boxes = areaBoxes(["header header", "content aside-end", "footer footer"]);
  expect(boxes.map((box) => box.name)).toEqual(["header", "content", "aside-end", "footer"]);
  expect(boxes[1]).toEqual({ name: "content", x: 0, y: 0.2, width: 0.5, height: 0.6 });
  expect(boxes[3]).toMatchObject({ width: 1, height: 0.2 });
});

test("an area over several rows is one box, an empty cell none, and no areas are the plain ones", () => {
  const [aside] = areaBoxes(["aside-end .", "aside-end content"]);
  expect(aside).toEqual({ name: "aside-end", x: 0, y: 0, width: 0.5, height: 1 });
  expect(areaBoxes(undefined).map((box) => box.name)).toEqual(["header", "title", "content", "footer"]);
});
