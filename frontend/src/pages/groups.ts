import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import type { Shapes } from "../api/client";
import { pageFactQuery } from "../api/queries";
import { useAllColumns, useSite } from "../parts/site";
import { outcomeText } from "../parts/words";
import { looksOf } from "./strips";
import type { Line } from "./tree";

type Column = Shapes["TargetColumn"];

/** How the list can stand: as the tree, or in groups. */
export const GROUPINGS = {
  tree: "as the site's tree",
  layout: "by layout, alike together",
  template: "by template",
  type: "by type",
  kind: "by kind",
  term: "by topic",
  author: "by author",
  lang: "by language",
} as const;
export type Grouping = keyof typeof GROUPINGS;

/** Groupings by what is in force rather than by what is so about pages. */
const BY_LAYOUT = ["layout", "template"];

/** Pages that stand together: what they have in common, and their numbers in tree order. */
export interface Group {
  name: string;
  members: number[];
}

/** The groups of a grouping, the largest first; null for the tree, and while what it takes is on its way. */
export function useGroups(
  grouping: Grouping,
  titles: string[],
  nameOf: (slug: string) => string | undefined,
): Group[] | null {
  const site = useSite();
  const byFact = grouping !== "tree" && !BY_LAYOUT.includes(grouping);
  const columns = useAllColumns(BY_LAYOUT.includes(grouping));
  const fact = useQuery({
    ...pageFactQuery(site.slug, site.inventory_version, grouping),
    enabled: byFact,
  }).data;
  return useMemo(() => {
    if (grouping === "tree") return null;
    if (byFact) return fact ? gathered(fact.codes, (code) => fact.values[code] || "none") : null;
    const shown = grouping === "layout" ? columns : columns.filter((column) => column.target === "template");
    return shown.length ? byLook(shown, titles, nameOf) : null;
  }, [grouping, byFact, fact, columns, titles, nameOf]);
}

/** Pages with the same code together, the largest group first. */
function gathered(codes: number[], nameOf: (code: number) => string): Group[] {
  const found = new Map<number, number[]>();
  codes.forEach((code, number) => {
    const members = found.get(code);
    if (members) members.push(number);
    else found.set(code, [number]);
  });
  return [...found]
    .map(([code, members]) => ({ name: nameOf(code), members }))
    .sort((a, b) => b.members.length - a.members.length || a.name.localeCompare(b.name));
}

/** Pages that look alike in some columns together: called by the first of them; in one column, by what that comes to. */
function byLook(columns: Column[], titles: string[], nameOf: (slug: string) => string | undefined): Group[] {
  const lookOf = looksOf(columns);
  const places = new Map<string, number>();
  const codes = titles.map((_, number) => {
    const look = lookOf(number);
    const place = places.get(look) ?? places.size;
    places.set(look, place);
    return place;
  });
  const [only] = columns.length === 1 ? columns : [];
  return gathered(codes, String).map(({ members }) => {
    const first = members[0] as number;
    const outcome = only?.outcomes[only.codes[first] ?? 0];
    const like = members.length === 1 ? titles[first] : `Like ${titles[first]}`;
    return { name: outcome ? outcomeText(outcome, nameOf) : (like ?? ""), members };
  });
}

/** What tells a group from others of its grouping: the first of its pages. */
export const groupKey = ({ members }: { members: number[] }) => String(members[0]);

/** The lines of a list in groups: the head of each, which sums it up, and its pages where it stands open. */
export function groupedLines(groups: Group[], open: Set<string>, found: Set<number> | null): Line[] {
  return groups.flatMap((group) => {
    const members = found ? group.members.filter((number) => found.has(number)) : group.members;
    if (members.length === 0) return [];
    const closed = !open.has(groupKey(group)) && !found;
    const head: Line = {
      number: members[0] as number,
      depth: 0,
      hasPages: true,
      closed,
      end: (members[0] as number) + 1,
      dim: false,
      group: { name: group.name, members },
    };
    const pages = members.map((number) => ({
      number,
      depth: 1,
      hasPages: false,
      closed: false,
      end: number + 1,
      dim: false,
    }));
    return closed ? [head] : [head, ...pages];
  });
}
