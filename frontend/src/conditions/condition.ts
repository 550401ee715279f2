import type { Shapes } from "../api/client";

export type Condition = Shapes["ConditionTree"];
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

/** The schedule as a condition holds it: without what is empty, undefined where nothing is left. */
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

/** A condition with other texts in some of its parts. */
export function withTexts(condition: Condition | undefined, texts: [ConditionPart, string][]): Condition {
  return texts.reduce((changed, [part, text]) => part.write(changed, text), condition ?? {});
}
