import type { Shapes } from "../api/client";

type Rule = Pick<Shapes["RuleTree"], "actions"> & { priority?: number };

/** What rules do with a piece, done with another: each act once. */
function actsWith(rules: Rule[], from: string, to: string): Shapes["ActionTree"][] {
  const acts = rules.flatMap((rule) => rule.actions ?? []);
  const mine = acts.filter((act) => act.piece === from || act.template === from);
  const made = mine.map((act) => (act.template ? { ...act, template: to } : { ...act, piece: to }));
  return [...new Map(made.map((act) => [JSON.stringify(act), act])).values()];
}

/**
 * A rule that does on some pages with one piece what rules do with another, and is stronger than they are; null where
 * no rule names that one, so that none could do it instead.
 */
export function ruleInstead(
  rules: Rule[],
  from: { slug: string; name: string },
  to: { slug: string; name: string },
  include: string,
): Shapes["RuleTree"] | null {
  const users = rules.filter((rule) => actsWith([rule], from.slug, to.slug).length);
  if (!users.length) return null;
  // What is added beside another stays there; on these pages it is filled in its place.
  const actions = actsWith(users, from.slug, to.slug).map((act) =>
    act.do === "append" || act.do === "prepend" ? { ...act, do: "fill" as const } : act,
  );
  return {
    name: `${to.name} instead of ${from.name}`.slice(0, 80),
    priority: Math.min(1000, Math.max(...users.map((rule) => rule.priority ?? 0)) + 1),
    condition: { include },
    actions: [...new Map(actions.map((act) => [JSON.stringify(act), act])).values()],
  };
}
