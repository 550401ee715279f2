import type { Item } from "./content";

const KEY = "navrel/copied-item";

/** The item that was copied last, in whatever piece; null for none. It outlives the window. */
export function copiedItem(): Item | null {
  try {
    const item = JSON.parse(localStorage.getItem(KEY) ?? "null") as Item | null;
    return typeof item?.type === "string" ? item : null;
  } catch {
    return null;
  }
}

export function copyItem(item: Item) {
  localStorage.setItem(KEY, JSON.stringify(item));
}
