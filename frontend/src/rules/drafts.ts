import { useCallback, useState } from "react";
import type { Shapes } from "../api/client";

export type RuleTree = Shapes["RuleTree"];

/** Edits that are not saved yet live in the window's session, so that leaving a view or a reload loses nothing. */
interface Draft {
  tree: RuleTree;
  /** The version that the edit was made from; 0 for a new rule. */
  version: number;
}

const keyOf = (site: string, rule: string) => `navrel/${site}/rule/${rule}`;

function read(key: string): Draft | null {
  try {
    return JSON.parse(sessionStorage.getItem(key) ?? "null") as Draft | null;
  } catch {
    return null;
  }
}

function write(key: string, draft: Draft | null) {
  if (draft) sessionStorage.setItem(key, JSON.stringify(draft));
  else sessionStorage.removeItem(key);
}

/** Put a rule into the editor as a new one. */
export function storeNewRule(site: string, tree: RuleTree) {
  write(keyOf(site, "new"), { tree, version: 0 });
}

/** The edited form of a rule, null while it is as saved. */
export function useRuleDraft(site: string, rule: string) {
  const key = keyOf(site, rule);
  const [draft, setDraft] = useState<Draft | null>(() => read(key));
  const put = useCallback(
    (next: Draft | null) => {
      write(key, next);
      setDraft(next);
    },
    [key],
  );
  const edit = useCallback((tree: RuleTree, version: number) => put({ tree, version }), [put]);
  const drop = useCallback(() => put(null), [put]);
  /** What was sent is saved as this version of this rule; what was typed meanwhile stays an edit of it. */
  const settle = useCallback(
    (sent: RuleTree, version: number, id: number) => {
      const newest = read(key)?.tree;
      const kept = newest && !sameRule(newest, sent) ? { tree: newest, version } : null;
      put(rule === "new" ? null : kept);
      if (rule === "new" && kept) write(keyOf(site, String(id)), kept);
    },
    [key, put, rule, site],
  );
  return { draft, edit, drop, settle };
}

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

interface ConditionPart {
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
