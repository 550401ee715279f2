import { expect, test } from "vitest";
import { added, at, type Menu, moved, removed, slugOf, withEntry } from "./menuTree";

const menu: Menu = {
  slug: "main",
  name: "Main",
  entries: [{ page: "/routes", entries: [{ text: "Night" }, { text: "Day" }] }, { text: "Help" }],
};
const texts = (made: Menu, way: number[]) => at(made, way)?.entries?.map((one) => one.text);

test("a line is found, changed, and loses what says nothing", () => {
  const made = withEntry(menu, [0, 1], { text: "Noon", page: "/noon", href: "" });
  expect(at(made, [0, 1])).toEqual({ text: "Noon", page: "/noon" });
  expect(texts(menu, [0])).toEqual(["Night", "Day"]);
});

test("lines come, move within their level, and go", () => {
  expect(texts(added(menu, [0]), [0])).toEqual(["Night", "Day", "New line"]);
  expect(texts(moved(menu, [0, 1], -1), [0])).toEqual(["Day", "Night"]);
  expect(moved(menu, [0, 1], 1)).toEqual(menu);
  expect(removed(removed(menu, [0, 1]), [0, 0]).entries[0]).toEqual({ page: "/routes" });
});

test("a name makes a slug", () => {
  expect([slugOf("Main menu"), slugOf("Øy & båt"), slugOf("–")]).toEqual(["main-menu", "y-ba-t", "menu"]);
});
