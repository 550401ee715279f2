import { expect, test } from "vitest";
import { factName, type Line, lines, placeWords, valuesOf, valuesText, withLine } from "./places";

const STANDARD: Line[] = [
  { fact: "title", places: [{ at: "heading" }, { at: "standards" }] },
  { fact: "author", places: [{ at: "standards" }] },
];
const BYLINE: Line = { fact: "author", places: [{ at: "element", of: ".byline" }, { at: "standards" }] };
const PRICE: Line = { fact: "fields/price", places: [{ at: "element", of: ".price" }] };

test("what a site says of a fact stands for what comes, and its own facts come last", () => {
  expect(lines(STANDARD, [PRICE, BYLINE])).toEqual([STANDARD[0], BYLINE, PRICE]);
});

test("a fact that is looked for as it comes is not said", () => {
  const own = withLine(STANDARD, [], BYLINE);
  expect(own).toEqual([BYLINE]);
  expect(
    withLine(STANDARD, own, { fact: "author", places: [{ at: "standards", of: "", values: {} }] }),
  ).toEqual([]);
  expect(withLine(STANDARD, [PRICE], { ...PRICE, places: [] })).toEqual([{ ...PRICE, places: [] }]);
});

test("values are typed as pairs, and what is not whole yet means nothing", () => {
  expect(valuesOf("archive = listing, blog=listing, half")).toEqual({ archive: "listing", blog: "listing" });
  expect(valuesText({ archive: "listing", blog: "listing" })).toBe("archive = listing, blog = listing");
});

test("facts and places are told in words", () => {
  expect(["parent", "terms/topic", "fields/price"].map(factName)).toEqual([
    "Page above",
    "Terms: topic",
    "Field: price",
  ]);
  expect(placeWords({ at: "element", of: "time", attribute: "datetime" })).toBe(
    "Element · time · its datetime",
  );
});
