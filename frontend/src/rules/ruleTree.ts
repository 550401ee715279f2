import { answer, api, type Shapes } from "../api/client";

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

type Condition = Shapes["ConditionTree"];
type Schedule = NonNullable<Condition["schedule"]>;
export type Repeats = NonNullable<Schedule["repeats"]>;

const NO_REPEATS: Repeats = { rrule: "", start: "", duration: "" };

/** A schedule with every part there, empty where nothing is said. */
export function normalSchedule(schedule: Condition["schedule"]) {
  return {
    from: schedule?.from ?? "",
    until: schedule?.until ?? "",
    repeats: { ...NO_REPEATS, ...schedule?.repeats },
  };
}

/** The schedule as the rule holds it: without what is empty, undefined where nothing is left. */
export function trimSchedule(schedule: ReturnType<typeof normalSchedule>): Condition["schedule"] {
  const repeats = Object.values(schedule.repeats).some(Boolean) ? { repeats: schedule.repeats } : {};
  const edges = Object.entries({ from: schedule.from, until: schedule.until }).filter(([, value]) => value);
  const trimmed = { ...Object.fromEntries(edges), ...repeats };
  return Object.keys(trimmed).length ? trimmed : undefined;
}

export interface ConditionPart {
  key: "include" | "exclude" | "visitorsInclude" | "visitorsExclude";
  domain: "page" | "visitor";
  /** Where the server's problems with it stand. */
  pointer: string;
  read: (condition: Condition) => string;
  write: (condition: Condition, text: string) => Condition;
}

/** The four queries of a condition. */
export const CONDITION_PARTS: ConditionPart[] = [
  {
    key: "include",
    domain: "page",
    pointer: "/condition/include",
    read: (condition) => condition.include ?? "",
    write: (condition, include) => ({ ...condition, include }),
  },
  {
    key: "exclude",
    domain: "page",
    pointer: "/condition/exclude",
    read: (condition) => condition.exclude ?? "",
    write: (condition, exclude) => ({ ...condition, exclude }),
  },
  {
    key: "visitorsInclude",
    domain: "visitor",
    pointer: "/condition/visitors/include",
    read: (condition) => condition.visitors?.include ?? "",
    write: (condition, include) => ({ ...condition, visitors: { ...condition.visitors, include } }),
  },
  {
    key: "visitorsExclude",
    domain: "visitor",
    pointer: "/condition/visitors/exclude",
    read: (condition) => condition.visitors?.exclude ?? "",
    write: (condition, exclude) => ({ ...condition, visitors: { ...condition.visitors, exclude } }),
  },
];

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
