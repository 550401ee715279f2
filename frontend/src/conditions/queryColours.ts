import type { StringStream } from "@codemirror/language";

/**
 * What the next piece of a query is, for its colours: a fact, a value, or a sign between them. It only tells signs from
 * words; what a query means the server alone knows.
 */
export function queryToken(stream: StringStream): string | null {
  if (stream.eatSpace()) return null;
  if (stream.match("|") || stream.match(/^-(?=[a-z])/)) return "keyword";
  if (stream.match(/^[a-z][\w.-]*(?=:)/)) return "propertyName";
  if (stream.match(/^(?::|,|[<>]=?)/)) return "punctuation";
  if (stream.match(/^"[^"]*"?/) || stream.match(/^[^\s|,:"]+/)) return "string";
  stream.next();
  return null;
}
