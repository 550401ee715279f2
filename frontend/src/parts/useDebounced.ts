import { useEffect, useState } from "react";

/**
 * The value once it has rested for so many milliseconds. Values are told apart by what they say: one that is made anew
 * on each redraw would never rest, and keep the view redrawing for ever. `initial` stands there until the first has rested.
 */
export function useDebounced<T>(value: T, milliseconds: number, initial = value): T {
  const [rested, setRested] = useState(initial);
  const said = JSON.stringify(value);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is said stands for the value
  useEffect(() => {
    const timer = setTimeout(() => setRested(value), milliseconds);
    return () => clearTimeout(timer);
  }, [said, milliseconds]);
  return rested;
}

/**
 * How long a hand has to rest until what takes the server longest is asked, in milliseconds. The more pages a site has,
 * the longer that takes, and the more it would be in the way of what the hand does next.
 */
export const restOn = (pages: number, least: number) => least + Math.min(2000, pages / 10);
