import { expect, it } from "vitest";
import { lineOf } from "./codeLine";

it("tells the line that a problem is in", () => {
  expect(lineOf("line 3: unknown filter", 10)).toBe(3);
  expect(lineOf("expected tag endif, found nothing", 10)).toBe(10);
  expect(lineOf("line 30: gone", 10)).toBe(10);
  expect(lineOf("line 0: odd", 10)).toBe(1);
});
