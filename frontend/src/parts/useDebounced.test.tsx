// @vitest-environment jsdom
import { act, render } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { useDebounced } from "./useDebounced";

let draws = 0;

function Typed({ text }: { text: string }) {
  draws += 1;
  return <p>{useDebounced({ text }, 50).text}</p>;
}

describe("a value that has rested", () => {
  beforeEach(() => {
    draws = 0;
    vi.useFakeTimers();
  });
  afterEach(() => vi.useRealTimers());
  const wait = (milliseconds: number) => act(() => vi.advanceTimersByTime(milliseconds));

  it("comes after the time, and the newest one only", () => {
    const { container, rerender } = render(<Typed text="a" />);
    rerender(<Typed text="ab" />);
    wait(40);
    rerender(<Typed text="abc" />);
    wait(40);
    expect(container.textContent).toBe("a");
    wait(20);
    expect(container.textContent).toBe("abc");
  });

  it("draws no more once it rests, though it is made anew each time", () => {
    render(<Typed text="a" />);
    wait(1000);
    const before = draws;
    wait(1000);
    expect(draws).toBe(before);
    expect(before).toBeLessThan(4);
  });
});
