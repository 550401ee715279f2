import { describe, expect, test } from "vitest";
import { colourOf, linesOf, over } from "./measure";

const box = (top: number, bottom: number) => ({ top, bottom });

describe("what is measured in a drawn page", () => {
  test("boxes side by side stand in one line, also where they are of unlike height", () => {
    expect(linesOf([box(0, 20), box(2, 18), box(-4, 24)])).toBe(1);
  });

  test("what has no room beside goes onto another line", () => {
    expect(linesOf([box(0, 20), box(0, 20), box(24, 44)])).toBe(2);
  });

  test("what stands below each other is meant so, and what is not shown counts for nothing", () => {
    expect(linesOf([box(0, 20), box(24, 44), box(48, 68)])).toBe(1);
    expect(linesOf([box(0, 20), box(0, 20), box(0, 0)])).toBe(1);
    expect(linesOf([])).toBe(1);
  });

  test("computed colours are read, and mixed over what lies under them", () => {
    expect(colourOf("rgb(255, 0, 10)")).toEqual({ red: 255, green: 0, blue: 10, alpha: 1 });
    expect(colourOf("rgba(0, 0, 0, 0.5)")).toEqual({ red: 0, green: 0, blue: 0, alpha: 0.5 });
    expect(colourOf("color(display-p3 1 0 0)")).toBeNull();
    const white = { red: 255, green: 255, blue: 255, alpha: 1 };
    expect(over({ red: 0, green: 0, blue: 0, alpha: 0.2 }, white)).toEqual({
      red: 204,
      green: 204,
      blue: 204,
      alpha: 1,
    });
  });
});
