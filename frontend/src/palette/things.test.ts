import { describe, expect, it } from "vitest";
import { fittingThings, thingsOf } from "./things";

const things = thingsOf([], [{ slug: "main-header", name: "Main header", kind: "header" } as never], [], []);

describe("the palette", () => {
  it("finds things by a part of their name, and in spite of slips", () => {
    for (const typed of ["main", "Main haeder", "mian header"]) {
      expect(fittingThings(things, typed, 5)[0]?.name).toBe("Main header");
    }
    expect(fittingThings(things, "publsih", 5)[0]?.name).toBe("Publish");
  });

  it("finds nothing where nothing is like it", () => {
    expect(fittingThings(things, "xyzzyq", 5)).toEqual([]);
  });
});
