import { type RefObject, useEffect, useRef, useState } from "react";

/** How far below what is seen something is drawn ahead. */
const AHEAD = "300px";

/** Whether an element has come into sight, or near it, at least once: what is far down need not be drawn yet. */
export function useSeen<T extends Element>(): [RefObject<T | null>, boolean] {
  const element = useRef<T>(null);
  const [seen, setSeen] = useState(false);
  useEffect(() => {
    if (!element.current) return;
    const observer = new IntersectionObserver(
      (entries) => entries.some((entry) => entry.isIntersecting) && setSeen(true),
      { rootMargin: AHEAD },
    );
    observer.observe(element.current);
    return () => observer.disconnect();
  }, []);
  return [element, seen];
}
