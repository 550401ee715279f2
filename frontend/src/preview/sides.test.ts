import { describe, expect, it } from "vitest";
import { type Beside, differingSlots, readBeside, shownBeside, tellBeside } from "./sides";

const LENS = { visitor: "signed:in role:crew", at: "2026-12-04T19:00" };

describe("what stands beside a page", () => {
  it("is read from the address as it was told", () => {
    const sides: Beside[] = [
      { kind: "live" },
      { kind: "page", path: "/a;b,c/ü?" },
      { kind: "lens", ...LENS },
    ];
    expect(readBeside(tellBeside(sides))).toEqual(sides);
    expect(readBeside(tellBeside([{ kind: "revision", number: 12 }]))).toEqual([
      { kind: "revision", number: 12 },
    ]);
  });

  it("is at most three, and nothing that makes no sense", () => {
    expect(readBeside("rx;page,about;page,%zz;nonsense;")).toEqual([]);
    expect(readBeside("live;live;live;live")).toHaveLength(3);
  });

  it("is another state, another page, or another lens", () => {
    expect(shownBeside({ kind: "revision", number: 3 }, "/a", LENS)).toMatchObject({
      path: "/a",
      state: "3",
    });
    expect(shownBeside({ kind: "page", path: "/b" }, "/a", LENS)).toMatchObject({
      path: "/b",
      state: "draft",
      lens: LENS,
    });
    expect(shownBeside({ kind: "lens", visitor: "", at: "" }, "/a", LENS).lens).toEqual({
      visitor: "",
      at: "",
    });
  });
});

const page = (html: string) => new DOMParser().parseFromString(html, "text/html");

it("slots differ by what is drawn in them, and where one page has them alone", () => {
  const one = page("<div data-slot=a>A</div><div data-slot=b>B  B</div><div data-slot=c>C</div>");
  const other = page(
    "<div data-slot=a>A</div><div data-slot=b>B\n B</div><div data-slot=d>D</div><main>x</main>",
  );
  expect(differingSlots(one, other)).toEqual(["c", "d"]);
  expect(
    differingSlots(one, page("<div data-slot=a>!</div><div data-slot=b>B B</div><div data-slot=c>C</div>")),
  ).toEqual(["a"]);
});
