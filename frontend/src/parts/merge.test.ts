import { describe, expect, test } from "vitest";
import { differingParts, merged, partName, partText } from "./merge";

const base = {
  name: "Site footer",
  note: "",
  condition: { include: "all", exclude: "within:/tickets" },
  actions: [{ do: "fill", slot: "footer", piece: "site-footer" }],
};

describe("what two people made of one thing", () => {
  test("what only one of them changed is told as theirs, what both changed as of both", () => {
    const mine = { ...base, note: "mine", condition: { ...base.condition, include: "all -kind:home" } };
    const theirs = { ...base, note: "theirs", condition: { ...base.condition, exclude: "" } };
    expect(
      differingParts(base, mine, theirs).map(({ path, changedBy }) => [path.join("/"), changedBy]),
    ).toEqual([
      ["note", "both"],
      ["condition/include", "mine"],
      ["condition/exclude", "theirs"],
    ]);
  });

  test("what says the same is no difference, whatever is left out", () => {
    expect(differingParts(base, { ...base, note: undefined }, { ...base, schedule: null })).toEqual([]);
    expect(differingParts(base, { b: 1, a: { y: 1, x: 2 } }, { a: { x: 2, y: 1 }, b: 1 })).toEqual([]);
  });

  test("a list stands as a whole where things came or went, else one by one", () => {
    const one = { do: "empty", slot: "title" };
    const longer = { ...base, actions: [...base.actions, one] };
    expect(differingParts(base, longer, base).map(({ path }) => path)).toEqual([["actions"]]);
    const other = { ...base, actions: [{ ...base.actions[0], piece: "legal-footer" }] };
    expect(differingParts(base, other, base).map(({ path }) => path)).toEqual([["actions", 0, "piece"]]);
  });

  test("what is taken from them is put into mine, also where it is gone there, and nothing else changes", () => {
    const mine = { ...base, note: "mine", condition: { include: "kind:home" } };
    const theirs = { ...base, condition: { include: "all" }, priority: 5 };
    const parts = differingParts(base, mine, theirs);
    const all = merged(mine, parts);
    expect(differingParts(base, all, theirs)).toEqual([]);
    expect(merged(mine, [])).toEqual(mine);
    const some = merged(
      mine,
      parts.filter(({ path }) => path[0] === "priority"),
    );
    expect(some).toEqual({ ...mine, priority: 5 });
    expect(mine.note).toBe("mine");
  });

  test("what names the thing is no part of it, deeper down it is", () => {
    const differing = differingParts(null, { slug: "a", menu: { slug: "b" } }, { menu: { slug: "c" } });
    expect(differing.map(({ path }) => path)).toEqual([["menu", "slug"]]);
  });

  test("parts are called as they are read", () => {
    expect(partName(["condition", "visitors_include"])).toBe("Condition, visitors include");
    expect(partName(["actions", 1, "piece"])).toBe("Actions 2, piece");
    expect([partText("x"), partText(undefined), partText(false), partText([1])]).toEqual([
      "x",
      "nothing",
      "false",
      "[\n 1\n]",
    ]);
  });
});
