import type { Walk } from "../api/walkQueries";

/** A walk as the address has it: `changed`, `layouts`, `search:type:article`. */
export const tellWalk = (walk: Walk) => (walk.pages === "search" ? `search:${walk.query}` : walk.pages);

/** The walk that an address names; null for none. */
export function readWalk(text: string): Walk | null {
  if (text === "changed" || text === "layouts") return { pages: text, query: "" };
  return text.startsWith("search:") ? { pages: "search", query: text.slice("search:".length) } : null;
}

/** What a walk goes through, in words. */
export function walkWords(walk: Walk): string {
  if (walk.pages === "changed") return "that publishing changes";
  return walk.pages === "layouts" ? "with layouts of their own" : `of the search ${walk.query}`;
}
