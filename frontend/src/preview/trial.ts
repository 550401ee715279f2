import type { Shapes } from "../api/client";
import { targetOf } from "../parts/words";

type Action = Shapes["ActionTree"];

/** What an address says is tried on; what cannot be read is nothing. */
export function readTrial(text: string): Action[] {
  try {
    const found: unknown = JSON.parse(text || "[]");
    return Array.isArray(found) ? found : [];
  } catch {
    return [];
  }
}

/** What is tried on, as the address and the server have it; empty for nothing. */
export const tellTrial = (actions: Action[]) => (actions.length ? JSON.stringify(actions) : "");

/** With one more tried on; a target has one thing at a time. */
export const withTried = (actions: Action[], action: Action) => [
  ...actions.filter((one) => targetOf(one) !== targetOf(action)),
  action,
];
