import { type RefObject, useCallback, useLayoutEffect, useRef } from "react";

/** The newest of a value that changes with every redraw, for functions that stay the same. */
export function useNewest<T>(value: T): RefObject<T> {
  const newest = useRef(value);
  useLayoutEffect(() => {
    newest.current = value;
  });
  return newest;
}

/** A function that stays the same and does what its newest form does, for what need not redraw. */
export function useSteadyCall<A extends unknown[], R>(call: (...given: A) => R): (...given: A) => R {
  const newest = useNewest(call);
  return useCallback((...given: A) => newest.current(...given), [newest]);
}

/** The same value as before for as long as it says the same, so that what is made from it need not redraw. */
export function useSteady<T>(value: T): T {
  const kept = useRef(value);
  if (kept.current !== value && JSON.stringify(kept.current) !== JSON.stringify(value)) kept.current = value;
  return kept.current;
}
