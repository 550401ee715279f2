import { useEffect, useSyncExternalStore } from "react";

/** What undo and redo would do to the edits of an open editor that are not saved. */
export interface UnsavedSteps {
  /** What is being edited. */
  name: string;
  undo: (() => void) | null;
  redo: (() => void) | null;
}

let open: UnsavedSteps | null = null;
const listeners = new Set<() => void>();

function offer(steps: UnsavedSteps | null) {
  open = steps;
  for (const listener of listeners) listener();
}

function subscribe(listener: () => void) {
  listeners.add(listener);
  return () => {
    listeners.delete(listener);
  };
}

/** The steps through what is not saved in the open editor; null where none is open. */
export function useUnsavedSteps(): UnsavedSteps | null {
  return useSyncExternalStore(subscribe, () => open);
}

/** Offer the steps of an editor to the bar, as long as it is open. */
export function useOfferSteps(name: string, undo: (() => void) | null, redo: (() => void) | null) {
  useEffect(() => {
    offer({ name, undo, redo });
    return () => offer(null);
  }, [name, undo, redo]);
}
