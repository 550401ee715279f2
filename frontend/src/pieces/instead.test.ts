import { expect, it } from "vitest";
import { ruleInstead } from "./instead";

const OLD = { slug: "old", name: "Old" };
const NEW = { slug: "new", name: "New" };

it("does with another piece what rules do, and is stronger", () => {
  const rules = [
    { priority: 3, actions: [{ do: "fill" as const, slot: "header", piece: "old" }] },
    { actions: [{ do: "fill" as const, slot: "header", piece: "old" }] },
    { priority: 9, actions: [{ do: "fill" as const, slot: "footer", piece: "other" }] },
  ];
  expect(ruleInstead(rules, OLD, NEW, "page:/a")).toEqual({
    name: "New instead of Old",
    priority: 4,
    condition: { include: "page:/a" },
    actions: [{ do: "fill", slot: "header", piece: "new" }],
  });
});

it("fills where the other was added, and is none where no rule names the other", () => {
  const added = [{ actions: [{ do: "append" as const, slot: "above-footer", piece: "old" }] }];
  expect(ruleInstead(added, OLD, NEW, "all")?.actions).toEqual([
    { do: "fill", slot: "above-footer", piece: "new" },
  ]);
  expect(
    ruleInstead([{ actions: [{ do: "use" as const, template: "old" }] }], OLD, NEW, "all")?.actions,
  ).toEqual([{ do: "use", template: "new" }]);
  expect(ruleInstead([], OLD, NEW, "all")).toBeNull();
});
