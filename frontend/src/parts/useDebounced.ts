import { useEffect, useState } from "react";

/** The value once it has rested for so many milliseconds. */
export function useDebounced<T>(value: T, milliseconds: number): T {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setRested(value), milliseconds);
    return () => clearTimeout(timer);
  }, [value, milliseconds]);
  return rested;
}
