import type { Shapes } from "../api/client";
import { usePieces } from "../parts/site";
import type { Item } from "./content";

const SAYS = ["text", "heading", "label", "kicker", "file", "menu", "name"];

/** How items are called: by their type, and in a line by what they say. */
export function useItemWords(types: Shapes["ItemType"][]) {
  const { bySlug } = usePieces();
  const name = (item: Item) => types.find((one) => one.type === item.type)?.name ?? item.type;
  const line = (item: Item) => {
    const inner = bySlug.get(String(item.piece ?? ""))?.name;
    const code = typeof item.code === "string" ? item.code.replace(/<[^>]*>|\s+/g, " ").trim() : "";
    const said = inner || code || SAYS.map((key) => item[key]).find((one) => typeof one === "string" && one);
    return said ? `${name(item)}: ${said}` : name(item);
  };
  return { name, line };
}
