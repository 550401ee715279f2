// @vitest-environment jsdom
import { describe, expect, it } from "vitest";
import { type Beside, differingSlots, readBeside, shownBeside, tellBeside } from "./sides";

const LENS = { visitor: "signed:in role:crew", at: "2026-12-04T19:00" };
const SHOWN = { path: "/a", lens: LENS, trial: '[{"do":"empty","slot":"footer"}]' };

describe("what stands beside a page", () => {
  it("is read from the address as it was told", () => {
    const sides: Beside[] = [
      { kind: "plain" },
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
    expect(shownBeside({ kind: "revision", number: 3 }, SHOWN)).toMatchObject({
      path: "/a",
      state: "3",
      trial: "",
    });
    expect(shownBeside({ kind: "plain" }, SHOWN)).toMatchObject({ state: "draft", trial: "" });
    expect(shownBeside({ kind: "page", path: "/b" }, SHOWN)).toMatchObject({
      path: "/b",
      state: "draft",
      lens: LENS,
      trial: SHOWN.trial,
    });
    expect(shownBeside({ kind: "lens", visitor: "", at: "" }, SHOWN).lens).toEqual({
      visitor: "",
      at: "",
    });
  });
});

const page = (html: string) => new DOMParser().parseFromString(html, "text/html");

it("slots differ by what is drawn in them, and where one page has them alone", () => {
  const one = page(
    "<div class=slot data-slot=a>A</div><div class=slot data-slot=b>B  B</div><div class=slot data-slot=c>C</div>",
  );
  const other = page(
    "<div class=slot data-slot=a>A</div><div class=slot data-slot=b>B\n B</div><div class=slot data-slot=d>D</div><main data-slot=card>x</main>",
  );
  expect(differingSlots(one, other)).toEqual(["c", "d"]);
  expect(
    differingSlots(
      one,
      page(
        "<div class=slot data-slot=a>!</div><div class=slot data-slot=b>B B</div><div class=slot data-slot=c>C</div>",
      ),
    ),
  ).toEqual(["a"]);
});

it("what was found stands in a slot with nothing around it, and is compared with what stood there", () => {
  const before = page(
    "<header data-slot=header data-nv-stays class='top wide lit' id=h>A<!-- b --></header><p data-slot=card>x</p>",
  );
  const found = "<header data-nv-shows=header data-slot=header id=h class='wide top'>A</header>";
  expect(differingSlots(before, page(`${found}<p data-slot=card>y</p>`))).toEqual([]);
  expect(differingSlots(before, page(found.replace("top", "bare")))).toEqual(["header"]);
  expect(differingSlots(before, page(`${found}<p data-nv-shows=header>More</p>`))).toEqual(["header"]);
});
