import { useLasting } from "../parts/memory";

/** Rules that somebody put together under a name of their own. It changes nothing about the order in which they win. */
export interface Group {
  name: string;
  rules: number[];
}

/** A person's groups of rules. */
export const useGroups = () => useLasting<Group[]>("rule-groups", []);

/** The groups with rules put into one of them, which is made where it is not there. */
export function putIn(groups: Group[], name: string, ids: number[]): Group[] {
  const known = groups.find((group) => group.name === name);
  const group = { name, rules: [...new Set([...(known?.rules ?? []), ...ids])] };
  return [...groups.filter((other) => other !== known), group].sort((a, b) => a.name.localeCompare(b.name));
}

/** The groups with rules taken out of one of them; one that is left without any is gone. */
export function takenOut(groups: Group[], name: string, ids: number[]): Group[] {
  return groups
    .map((group) =>
      group.name === name ? { name, rules: group.rules.filter((id) => !ids.includes(id)) } : group,
    )
    .filter((group) => group.rules.length > 0);
}

const NONE: string[] = [];

/** The names of the groups that a rule is in; for one that is in none always the same list. */
export function groupsOf(groups: Group[], id: number): string[] {
  const names = groups.filter((group) => group.rules.includes(id)).map((group) => group.name);
  return names.length ? names : NONE;
}
