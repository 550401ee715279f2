import { expect, test } from "vitest";
import { groupsOf, putIn, takenOut } from "./groups";

const WINTER = [{ name: "Winter", rules: [3, 5] }];

test("rules are put into groups, each once, and groups stand by name", () => {
  const groups = putIn(putIn(WINTER, "Winter", [5, 7]), "Crew", [7]);
  expect(groups).toEqual([
    { name: "Crew", rules: [7] },
    { name: "Winter", rules: [3, 5, 7] },
  ]);
  expect(groupsOf(groups, 7)).toEqual(["Crew", "Winter"]);
  expect(groupsOf(groups, 4)).toEqual([]);
});

test("a group without rules is gone", () => {
  expect(takenOut(WINTER, "Winter", [3])).toEqual([{ name: "Winter", rules: [5] }]);
  expect(takenOut(WINTER, "Winter", [3, 5, 9])).toEqual([]);
  expect(takenOut(WINTER, "Crew", [3])).toEqual(WINTER);
});
