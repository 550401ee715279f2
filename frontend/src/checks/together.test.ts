import { describe, expect, it } from "vitest";
import { together } from "./useMeasuring";

const wraps = { kind: "wraps", piece: "legal", slot: "footer", words: "It wraps" } as const;

describe("what is amiss in drawn pages", () => {
  it("is told once for all pages and widths at which it is the same", () => {
    expect(
      together([
        { amiss: wraps, width: "phone", path: "/a" },
        { amiss: { ...wraps }, width: "tablet", path: "/a" },
        { amiss: wraps, width: "phone", path: "/b" },
        { amiss: wraps, width: "tablet", path: "/b" },
      ]),
    ).toEqual([{ ...wraps, widths: ["phone", "tablet"], paths: ["/a", "/b"] }]);
  });

  it("is told apart where it is so on other pages at another width", () => {
    const told = together([
      { amiss: wraps, width: "phone", path: "/a" },
      { amiss: wraps, width: "phone", path: "/b" },
      { amiss: wraps, width: "desktop", path: "/b" },
    ]);
    expect(told.map(({ widths, paths }) => [widths, paths])).toEqual([
      [["phone"], ["/a", "/b"]],
      [["desktop"], ["/b"]],
    ]);
  });
});
