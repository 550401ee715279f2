import { describe, expect, it } from "vitest";
import { placedBy } from "./laidOut";

const proposal = (slot: string) =>
  ({ binding: { slot, selector: "nav" }, why: "", sure: true, distinct: 1, fit: { seen: ["/"] } }) as never;
const box = (x: number, width: number, height = 300) => ({ x, y: 0, width, height });

describe("a proposal on a drawn page", () => {
  it("is that of the side where it stands", () => {
    expect(placedBy(proposal("aside-end"), [box(0, 240)]).binding.slot).toBe("aside-start");
    expect(placedBy(proposal("aside-start"), [box(1040, 240)]).binding.slot).toBe("aside-end");
    expect(placedBy(proposal("aside-end"), [box(0, 1280)]).binding.slot).toBe("aside-end");
    expect(placedBy(proposal("header"), [box(0, 240)]).binding.slot).toBe("header");
  });

  it("is told where the page's own styles do not show it, and stays as it is then", () => {
    const hidden = placedBy(proposal("aside-end"), [box(0, 0, 0)]);
    expect([hidden.seen, hidden.binding.slot]).toEqual([false, "aside-end"]);
    expect(placedBy(proposal("header"), [box(0, 1280)]).seen).toBe(true);
    expect(placedBy(proposal("header"), [box(0, 0, 0), box(0, 1280)]).seen).toBe(true);
    expect(placedBy(proposal("header"), []).seen).toBe(true);
  });
});
