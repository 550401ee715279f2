import { describe, expect, it } from "vitest";
import { shifted, tracksShifted, trackWidths, twelfths } from "./shares";

describe("shares of a row", () => {
  it("come in twelfths, none less than one", () => {
    expect(twelfths([1, 1, 1])).toEqual([4, 4, 4]);
    expect(twelfths([0, 0])).toEqual([6, 6]);
    expect(twelfths([1, 1, 1, 1, 1]).reduce((a, b) => a + b)).toBe(12);
    expect(twelfths([100, 1])).toEqual([11, 1]);
  });
  it("move over a line, and stop where nothing is left", () => {
    expect(shifted([4, 4, 4], 0, 2)).toEqual([6, 2, 4]);
    expect(shifted([4, 4, 4], 1, -9)).toEqual([4, 1, 7]);
    expect(shifted([1, 11], 0, -3)).toEqual([1, 11]);
  });
});

describe("tracks of a grid", () => {
  it("are measured on a page", () => {
    expect(trackWidths(["minmax(0, 1fr)", "19rem"])).toEqual([57, 19]);
    expect(trackWidths(["1fr", "3fr"])).toEqual([19, 57]);
    expect(trackWidths(["auto", "1fr"])).toBeNull();
  });
  it("change where a line is moved: the fixed one beside a share, both of two alike", () => {
    expect(tracksShifted(["minmax(0, 1fr)", "19rem"], 0, -2)).toEqual(["minmax(0, 1fr)", "21rem"]);
    expect(tracksShifted(["1fr", "1fr"], 0, 19)).toEqual(["minmax(0, 1.5fr)", "minmax(0, 0.5fr)"]);
    expect(tracksShifted(["10rem", "20rem"], 0, 3.2)).toEqual(["13rem", "17rem"]);
    expect(tracksShifted(["10rem", "20rem"], 0, -99)).toEqual(["4rem", "26rem"]);
    expect(tracksShifted(["auto", "1fr"], 0, 5)).toEqual(["auto", "1fr"]);
  });
});
