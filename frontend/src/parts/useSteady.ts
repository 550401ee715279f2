import { useCallback, useLayoutEffect, useRef } from "react";

/** The same value as before for as long as it says the same, so that what is made from it need not redraw. */
export function useSteady<T>(value: T): T {
  const kept = useRef(value);
  if (kept.current !== value && JSON.stringify(kept.current) !== JSON.stringify(value)) kept.current = value;
  return kept.current;
}

/** A function that stays the same and does what its newest form does, for what need not redraw. */
export function useSteadyCall<A extends unknown[], R>(call: (...given: A) => R): (...given: A) => R {
  const newest = useRef(call);
  useLayoutEffect(() => {
    newest.current = call;
  });
  return useCallback((...given: A) => newest.current(...given), []);
}
