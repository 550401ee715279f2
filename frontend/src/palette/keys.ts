/** Every key of the application, where it counts. One list, for the dialog of keys and for the palette. */
export const KEYS: { where: string; keys: [string, string][] }[] = [
  {
    where: "Everywhere",
    keys: [
      ["Ctrl K", "Go to a page, a rule, a piece, or do something"],
      ["?", "This list of keys"],
      ["L", "Change the lens: the visitor and the moment"],
      ["N", "New rule"],
      ["Ctrl S", "Save what is being edited"],
      ["Ctrl Z", "Undo"],
      ["Ctrl Shift Z", "Redo"],
      ["Esc", "Close what stands open"],
    ],
  },
  {
    where: "The list of pages",
    keys: [
      ["/", "Find pages"],
      ["↑ ↓ ← →", "Walk the cells; in the page column open and close sections"],
      ["Home, End", "The first page, the last page"],
      ["Enter", "Why a cell is as it is; in the page column all that the page gets"],
      ["P", "Pin something in a cell"],
      ["Space", "Pick a page; with Shift all from the one picked last"],
      ["S", "Pick a page and all below it"],
    ],
  },
  {
    where: "The preview",
    keys: [
      ["J, K", "The next page of the walk, the one before"],
      ["Shift J, Shift K", "The next look of the page, the one before"],
      ["F", "This page is fine; on to the next that waits"],
      ["X", "This page is not fine: a note, then Enter"],
    ],
  },
  {
    where: "Lists of rules, guards and reached pages",
    keys: [["↑ ↓, Home, End", "Another line; Tab goes through what a line holds, and on"]],
  },
  {
    where: "Lists that can be ordered",
    keys: [["Space, ↑ ↓, Space", "Lift a rule or an item, move it, put it down"]],
  },
];
