import type { Shapes } from "../api/client";
import { useSite } from "./site";

export type Role = Shapes["PersonRole"];

/** From the least to the most: each may do what those before it may. */
export const ROLES: readonly Role[] = ["viewer", "editor", "publisher", "owner"];

/** What each may do beyond the one before. */
export const ROLE_WORDS: Record<Role, string> = {
  viewer: "sees everything, marks pages on walks",
  editor: "edits the draft",
  publisher: "publishes",
  owner: "says who may do what",
};

/** Why whoever is signed in may not do what takes a role; empty where they may. */
export function useLacking(takes: Role): string {
  const { your_role: yours } = useSite();
  return ROLES.indexOf(yours) < ROLES.indexOf(takes)
    ? `That takes the role ${takes}; you are ${yours} here`
    : "";
}
