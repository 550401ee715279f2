import { answer, api, type Shapes } from "../api/client";
import { CONDITION_PARTS, normalSchedule } from "../conditions/condition";

export type RuleTree = Shapes["RuleTree"];

/** Whether two forms of a rule say the same. */
export function sameRule(a: RuleTree, b: RuleTree): boolean {
  return JSON.stringify(normal(a)) === JSON.stringify(normal(b));
}

function normal(tree: RuleTree) {
  const condition = tree.condition ?? {};
  return {
    name: tree.name.trim(),
    note: tree.note ?? "",
    on: tree.on ?? true,
    priority: tree.priority ?? 0,
    queries: CONDITION_PARTS.map((part) => part.read(condition).trim()),
    schedule: normalSchedule(condition.schedule),
    actions: (tree.actions ?? []).map((action) => [
      action.do,
      action.slot ?? "",
      action.piece ?? action.template ?? "",
      action.exclusive ?? false,
      action.setting ?? "",
      action.value ?? null,
    ]),
  };
}

/** Whether an action still lacks where it acts or what it acts with, so that it cannot be saved. */
export function isHalfMade(action: Shapes["ActionTree"]): boolean {
  if (action.do === "use") return !action.template;
  if (action.do === "set") return !action.setting;
  return !action.slot || (action.do !== "empty" && !action.piece);
}

/** Send a rule: over the version that it was made from, or as a new one where it has no id yet. */
export async function sendRule(site: string, number: number | null, tree: RuleTree, version: number) {
  const made =
    number === null
      ? await answer(api.POST("/api/sites/{site}/rules", { params: { path: { site } }, body: tree }))
      : await answer(
          api.PUT("/api/sites/{site}/rules/{number}", {
            params: { path: { site, number }, header: { "If-Match": `"${version}"` } },
            body: tree,
          }),
        );
  return { id: String(made.id), version: made.version };
}
