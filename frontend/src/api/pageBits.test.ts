import { expect, test } from "vitest";
import { pageNumbers } from "./pageBits";

test("pages are told by a bit each, the highest of a byte first", () => {
  expect(pageNumbers("")).toEqual([]);
  expect(pageNumbers("gAGA")).toEqual([0, 15, 16]);
  expect(pageNumbers(btoa("\xff\x00\x10"))).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 19]);
});
