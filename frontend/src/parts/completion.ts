/** What stands at the caret of a query text, and how a choice is put in its place. */
export interface AtCaret {
  /** Empty while the fact itself is being typed. */
  fact: string;
  typed: string;
  start: number;
  end: number;
}

/** The fact and the beginning of the value at the caret; null inside quotes. */
export function atCaret(text: string, caret: number): AtCaret | null {
  const before = text.slice(0, caret);
  if ((before.match(/"/g)?.length ?? 0) % 2) return null;
  const start = Math.max(...[" ", "\n", "\t", "|"].map((mark) => before.lastIndexOf(mark))) + 1;
  const word = before.slice(start).replace(/^-/, "");
  const from = caret - word.length;
  const colon = word.indexOf(":");
  if (colon < 0) return { fact: "", typed: word, start: from, end: caret };
  const valueStart = from + Math.max(colon, word.lastIndexOf(",")) + 1;
  return { fact: word.slice(0, colon), typed: text.slice(valueStart, caret), start: valueStart, end: caret };
}

/** A value as it has to stand in a query. */
export function quoted(value: string): string {
  return /[\s,|"]/.test(value) || value.startsWith("-") || value === ""
    ? `"${value.replaceAll("\\", "\\\\").replaceAll('"', '\\"')}"`
    : value;
}

/** The text with a choice in the place of what was typed, and the caret behind it. */
export function complete(text: string, at: AtCaret, choice: string): { text: string; caret: number } {
  const put = at.fact ? quoted(choice) : `${choice}:`;
  return { text: text.slice(0, at.start) + put + text.slice(at.end), caret: at.start + put.length };
}
