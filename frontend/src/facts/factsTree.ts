import { answer, api, type Shapes } from "../api/client";

export type PageFacts = Shapes["PageFacts"];
export type Lock = PageFacts["locks"][number];

/**
 * What of the facts of a page was touched by hand, and nothing else: all other facts go on following what is taken in
 * meanwhile. `name` is what telling of the draft elsewhere calls it.
 */
export interface FactsTree {
  name: string;
  touched: Partial<Facts>;
}
export interface Facts {
  title: string;
  kind: string;
  type: string;
  parent: string;
  terms: string[];
  lists: string;
  author: string;
  language: string;
  published: string;
  fields: [string, string][];
  locks: Lock[];
}

/** What each fact is called, in the order in which they stand. */
export const FACTS: readonly (readonly [keyof Facts, string])[] = [
  ["title", "title"],
  ["kind", "kind"],
  ["type", "type"],
  ["parent", "below"],
  ["terms", "terms"],
  ["lists", "lists"],
  ["author", "author"],
  ["language", "language"],
  ["published", "published"],
  ["fields", "fields"],
  ["locks", "locked"],
];
export const KINDS = ["home", "single", "listing", "search", "missing"] as const;

/** The facts of a page as the form has them: as they are saved, or as they were taken in. */
export function factsOf(told: Shapes["FactsInfo"]): Facts {
  const { title, kind, type, terms, lists, author, language, locks } = told;
  return {
    ...{ title, kind, type, terms, lists, author, language, locks },
    parent: told.parent ?? "",
    published: told.published ?? "",
    fields: Object.entries(told.fields),
  };
}

/** Whose a locked place is, and why it is locked; empty where neither is told. */
export const ownerOf = ({ owner, why }: Pick<Lock, "owner" | "why">) =>
  [owner, why].filter(Boolean).join(": ");

/** What of the facts differs from how they are saved, as the server takes it. What stays is not said by hand. */
export function correctionsOf(saved: Facts, touched: Partial<Facts>): Record<string, unknown> {
  const now = { ...saved, ...touched };
  const differing = FACTS.map(([fact]) => fact).filter((fact) => !alike(saved[fact], now[fact]));
  return Object.fromEntries(differing.map((fact) => [fact, onTheWire(now, fact)]));
}

/** Whether two forms come to the same corrections. */
export const sameCorrections = (saved: Facts, one: FactsTree, other: FactsTree) =>
  alike(correctionsOf(saved, one.touched), correctionsOf(saved, other.touched));

const alike = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other);

function onTheWire(facts: Facts, fact: keyof Facts): unknown {
  if (fact === "fields") return Object.fromEntries(facts.fields.filter(([name]) => name.trim()));
  if (fact === "locks")
    return facts.locks.map(({ slot, owner, why }) => ({
      slot,
      ...(owner && { owner }),
      ...(why && { why }),
    }));
  return facts[fact];
}

/** Send corrections over the version that they were made from. */
export async function sendFacts(site: string, path: string, facts: Record<string, unknown>, version: number) {
  const made = await answer(
    api.PUT("/api/sites/{site}/page", {
      params: { path: { site }, header: { "If-Match": `"${version}"` } },
      body: { path, facts },
    }),
  );
  return { id: path, version: made.version };
}
