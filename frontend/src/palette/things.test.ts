import { describe, expect, it } from "vitest";
import { finderOf, thingsOf } from "./things";

const things = thingsOf([], [{ slug: "main-header", name: "Main header", kind: "header" } as never]);

const find = finderOf(things);

describe("the palette", () => {
  it("finds things by a part of their name, and in spite of slips", () => {
    for (const typed of ["main", "Main haeder", "mian header"]) {
      expect(find(typed, 5)[0]?.name).toBe("Main header");
    }
    expect(find("publsih", 5)[0]?.name).toBe("Publish");
  });

  it("finds nothing where nothing is like it", () => {
    expect(find("xyzzyq", 5)).toEqual([]);
  });
});
