/** What a key does in the page list; the grid carries it out. One place for all keys. */
export type GridStep =
  | { do: "move"; rows: number; columns: number }
  | { do: "first" }
  | { do: "last" }
  | { do: "toggle" }
  | { do: "pick"; upTo: boolean }
  | { do: "pick-section" }
  | { do: "open" }
  | { do: "pin" };

interface At {
  /** Whether the page column is active, on a line with pages below it. */
  onSection: boolean;
  closed: boolean;
}

const PAGE = 20;

/** The step that a key stands for; null for a key that is not the list's. Keys as in the ARIA grid pattern. */
export function stepFor(key: string, shift: boolean, at: At): GridStep | null {
  switch (key) {
    case "ArrowDown":
      return { do: "move", rows: 1, columns: 0 };
    case "ArrowUp":
      return { do: "move", rows: -1, columns: 0 };
    // In the page column the arrows first open and close a section, as in a tree.
    case "ArrowRight":
      return at.onSection && at.closed ? { do: "toggle" } : { do: "move", rows: 0, columns: 1 };
    case "ArrowLeft":
      return at.onSection && !at.closed ? { do: "toggle" } : { do: "move", rows: 0, columns: -1 };
    case "PageDown":
      return { do: "move", rows: PAGE, columns: 0 };
    case "PageUp":
      return { do: "move", rows: -PAGE, columns: 0 };
    case "Home":
      return { do: "first" };
    case "End":
      return { do: "last" };
    case " ":
      return { do: "pick", upTo: shift };
    case "s":
    case "S":
      return { do: "pick-section" };
    case "Enter":
      return { do: "open" };
    case "p":
    case "P":
      return { do: "pin" };
    default:
      return null;
  }
}
