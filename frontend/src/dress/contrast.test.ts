import { describe, expect, it } from "vitest";
import { contrast, longColour, readings } from "./contrast";

describe("contrast", () => {
  it("is 21 between black and white, whichever comes first, and 1 between the same", () => {
    expect(contrast("#000000", "#ffffff")).toBeCloseTo(21, 5);
    expect(contrast("#ffffff", "#000000")).toBeCloseTo(21, 5);
    expect(contrast("#777777", "#777777")).toBe(1);
  });
  it("is what WCAG's examples come to", () => {
    expect(contrast("#767676", "#ffffff")).toBeCloseTo(4.54, 2);
    expect(contrast("#0000ff", "#ffffff")).toBeCloseTo(8.59, 2);
  });
  it("tells what is read on what", () => {
    const found = readings({ ink: "#000000", paper: "#ffffff", brand: "#eeeeee" });
    expect(found.find((one) => one.what === "text")?.ratio).toBeCloseTo(21, 5);
    expect(found.find((one) => one.what === "links")?.ratio).toBeLessThan(1.5);
  });
  it("writes short colours out", () => {
    expect(longColour("#Ab1")).toBe("#AAbb11".toLowerCase());
    expect(longColour("#0F5C7A")).toBe("#0f5c7a");
  });
});
