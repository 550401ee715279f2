import type { LensParams } from "../api/queries";
import { drawnIn, slotName, slotsIn } from "../parts/slots";

/**
 * What stands beside the draft of a page: what is live, a revision, the draft of another page, or of other lenses; or
 * beside something that is tried on, the draft as it is.
 */
export type Beside =
  | { kind: "live" }
  | { kind: "plain" }
  | { kind: "revision"; number: number }
  | { kind: "page"; path: string }
  | { kind: "lens"; visitor: string; at: string };

/** So many can stand beside the draft at once. */
export const MOST_BESIDE = 3;

/** What stands beside, as the address has it: `live;r3;page,/about`. */
export function tellBeside(sides: Beside[]): string {
  return sides.map(tellOne).join(";");
}

function tellOne(side: Beside): string {
  switch (side.kind) {
    case "live":
    case "plain":
      return side.kind;
    case "revision":
      return `r${side.number}`;
    case "page":
      return `page,${encodeURIComponent(side.path)}`;
    case "lens":
      return `lens,${encodeURIComponent(side.visitor)},${encodeURIComponent(side.at)}`;
  }
}

/** What an address says stands beside; what it does not say as it has to is passed over. */
export function readBeside(text: string): Beside[] {
  return text
    .split(";")
    .flatMap((one): Beside[] => {
      const [kind = "", ...rest] = one.split(",");
      const [first = "", second = ""] = rest.map(decoded);
      if (kind === "live" || kind === "plain") return [{ kind }];
      if (/^r\d+$/.test(kind)) return [{ kind: "revision", number: Number(kind.slice(1)) }];
      if (kind === "page" && first.startsWith("/")) return [{ kind: "page", path: first }];
      return kind === "lens" ? [{ kind: "lens", visitor: first, at: second }] : [];
    })
    .slice(0, MOST_BESIDE);
}

function decoded(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return "";
  }
}

/** One picture of the preview: which page, in which state, through which lens. */
export interface Shown {
  key: string;
  path: string;
  lens: LensParams;
  state: string;
  /** What is tried on, as the server takes it; empty for nothing. */
  trial: string;
}

/** What is shown of one that stands beside the draft of a page through a lens. */
export function shownBeside(side: Beside, { path, lens, trial }: Omit<Shown, "key" | "state">): Shown {
  const shown = { key: tellOne(side), path, lens, state: "draft", trial };
  switch (side.kind) {
    case "live":
      return { ...shown, state: "live", trial: "" };
    case "plain":
      return { ...shown, trial: "" };
    case "revision":
      return { ...shown, state: String(side.number), trial: "" };
    case "page":
      return { ...shown, path: side.path };
    case "lens":
      return { ...shown, lens: { visitor: side.visitor, at: side.at } };
  }
}

/** Whether it is what was: that stands before the draft, other things after it. */
export const isEarlier = (side: Beside) => ["live", "revision", "plain"].includes(side.kind);

/** The slots of two drawn pages that do not look the same: with other contents, or on one of them alone. */
export function differingSlots(one: Document, other: Document): string[] {
  const drawn = (page: Document) =>
    new Map(slotsIn(page).map((slot) => [slotName(slot), drawnIn(slot).replace(/\s+/g, " ").trim()]));
  const [mine, theirs] = [drawn(one), drawn(other)];
  return [...new Set([...mine.keys(), ...theirs.keys()])].filter(
    (slot) => mine.get(slot) !== theirs.get(slot),
  );
}
