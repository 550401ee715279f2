import { expect, test } from "vitest";
import type { Shapes } from "../api/client";
import { correctionsOf, factsOf } from "./factsTree";

const ABOUT: Shapes["FactsInfo"] = {
  title: "About us",
  kind: "single",
  type: "",
  parent: "/",
  terms: ["topic/food"],
  lists: "",
  author: "",
  language: "en",
  published: null,
  fields: { vessel: "Aurora" },
  locks: [{ slot: "aside-end", owner: "The desk", why: "" }],
};
const facts = factsOf(ABOUT);

test("what is not touched is not said by hand", () => {
  expect(correctionsOf(facts, {})).toEqual({});
  expect(correctionsOf(facts, factsOf({ ...ABOUT }))).toEqual({});
});

test("what differs is said as the layout file has it", () => {
  const now = {
    ...facts,
    title: "Who we are",
    published: "2026-02-03",
    fields: [
      ["vessel", ""],
      ["tide", "high"],
      ["  ", "left out"],
    ] as [string, string][],
    locks: [...facts.locks, { slot: "footer", owner: "", why: "Filled elsewhere" }],
  };
  expect(correctionsOf(facts, now)).toEqual({
    title: "Who we are",
    published: "2026-02-03",
    fields: { vessel: "", tide: "high" },
    locks: [
      { slot: "aside-end", owner: "The desk" },
      { slot: "footer", why: "Filled elsewhere" },
    ],
  });
});
