/** Steps back and forth through the forms of what is being edited and not saved yet. */
export interface History<T> {
  /** Forms before the one at hand, the newest last; null stands for the saved one. */
  past: (T | null)[];
  /** Forms that were undone, the next one last. */
  future: (T | null)[];
  /** When the last step was made, in milliseconds. */
  at: number;
}

export type Step<T> =
  | { do: "edit"; from: T | null; now: number }
  | { do: "undo"; from: T | null }
  | { do: "redo"; from: T | null }
  | { do: "forget" };

/** Edits in such quick succession are one step: letters of a word, the way of a slider. */
const ONE_STEP = 700;
const MOST_STEPS = 100;

export const NOTHING: History<never> = { past: [], future: [], at: 0 };

/** The history after a step. `from` is the form at hand before it. */
export function stepped<T>(history: History<T>, step: Step<T>): History<T> {
  const { past, future } = history;
  switch (step.do) {
    case "edit": {
      const goesOn = past.length > 0 && step.now - history.at < ONE_STEP;
      return { past: (goesOn ? past : [...past, step.from]).slice(-MOST_STEPS), future: [], at: step.now };
    }
    case "undo":
      return past.length ? { past: past.slice(0, -1), future: [...future, step.from], at: 0 } : history;
    case "redo":
      return future.length ? { past: [...past, step.from], future: future.slice(0, -1), at: 0 } : history;
    case "forget":
      return NOTHING;
  }
}
