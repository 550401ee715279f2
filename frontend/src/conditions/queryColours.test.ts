import { StringStream } from "@codemirror/language";
import { expect, test } from "vitest";
import { queryToken } from "./queryColours";

function told(text: string): [string, string][] {
  const stream = new StringStream(text, 2, 2);
  const found: [string, string][] = [];
  while (!stream.eol()) {
    stream.start = stream.pos;
    const kind = queryToken(stream);
    if (kind) found.push([stream.current(), kind]);
  }
  return found;
}

test("facts, values and the signs between them are told apart", () => {
  expect(told('-within:/legal words:>=100 | author:"Maren D",x')).toEqual([
    ["-", "keyword"],
    ["within", "propertyName"],
    [":", "punctuation"],
    ["/legal", "string"],
    ["words", "propertyName"],
    [":", "punctuation"],
    [">=", "punctuation"],
    ["100", "string"],
    ["|", "keyword"],
    ["author", "propertyName"],
    [":", "punctuation"],
    ['"Maren D"', "string"],
    [",", "punctuation"],
    ["x", "string"],
  ]);
});

test.each(['"', ":", "|||", "a:b:c", '"open', "é:ü", "\n"])(
  "anything that is typed comes to an end: %s",
  (text) => {
    expect(told(text).length).toBeLessThanOrEqual(text.length);
  },
);
