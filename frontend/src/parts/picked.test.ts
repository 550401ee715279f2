// @vitest-environment jsdom
import { describe, expect, it } from "vitest";
import { isSeen, pickedOn } from "./picked";

const page = (html: string) => new DOMParser().parseFromString(html, "text/html");

describe("what is picked on a page", () => {
  it("is what stands between the marks", () => {
    const found = pickedOn(page("<p>a<!--nv-picked--><b>b</b>c<!--nv-picked-until-->d"));
    expect(found?.toString()).toBe("bc");
    expect(found?.collapsed).toBe(false);
  });

  it("is nothing where nothing is drawn, and there is none without marks", () => {
    expect(pickedOn(page("<p>a<!--nv-picked--><!--nv-picked-until-->d"))?.collapsed).toBe(true);
    expect(pickedOn(page("<p>a<!--other-->d"))).toBeNull();
  });

  it("is not seen where it has no room, or is put away beside the page", () => {
    const box = { x: 0, y: 0, width: 200, height: 40 };
    expect(isSeen(box, 390)).toBe(true);
    expect(isSeen({ ...box, height: 0 }, 390)).toBe(false);
    expect(isSeen({ ...box, x: -200 }, 390)).toBe(false);
    expect(isSeen({ ...box, x: 390 }, 390)).toBe(false);
  });
});
