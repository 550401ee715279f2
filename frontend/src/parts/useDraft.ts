import { useCallback, useState, useSyncExternalStore } from "react";
import { ApiError, type Problem } from "../api/client";
import { type Draft, type DraftKind, readDraft, subscribeDrafts, useDraftPrefix, writeDraft } from "./drafts";
import { type History, NOTHING, type Step, stepped } from "./history";
import { useRefresh } from "./site";
import { useOfferSteps } from "./steps";

/** What is edited: where it is kept, how it was saved, and how it is sent. */
interface Edited<T> {
  kind: DraftKind;
  id: string;
  /** The saved form and its version; null for something new. */
  saved: { tree: T; version: number } | null;
  /** What something new begins as. */
  blank: T;
  /** Whether two forms say the same. */
  same: (a: T, b: T) => boolean;
  /** Send a form that was made from a version; resolves to how it is saved. */
  send: (tree: T, version: number) => Promise<{ id: string; version: number }>;
}

/** Somebody else's version, saved while this one was edited. */
export interface Conflict<T> {
  theirs: T;
  version: number;
}

/** Steps through unsaved forms, by where the draft is kept. A reload forgets them; the draft itself stays. */
const histories = new Map<string, History<unknown>>();

/**
 * Editing one thing: a form that is kept in the browser until it is saved, steps back and forth through what was typed,
 * what is wrong with it, and what somebody else made of it meanwhile.
 */
export function useDraft<T extends { name: string }>({ kind, id, saved, blank, same, send }: Edited<T>) {
  const prefix = useDraftPrefix();
  const refresh = useRefresh();
  const key = `${prefix}${kind}/${id}`;
  const draft = useSyncExternalStore(subscribeDrafts, () => readDraft(key)) as Draft<T> | null;
  const [error, setError] = useState<ApiError | null>(null);
  const [busy, setBusy] = useState(false);
  /** What was sent of something new: it goes on being shown until it is known as saved. */
  const [sent, setSent] = useState<T | null>(null);
  const tree = draft?.tree ?? saved?.tree ?? sent ?? blank;
  const version = draft?.version ?? saved?.version ?? 0;
  const history = (histories.get(key) ?? NOTHING) as History<T>;

  /** Keep a form; null, and what says the same as the saved one, is no draft. */
  const keep = useCallback(
    (next: T | null) => {
      const changed = next !== null && !(saved && same(next, saved.tree));
      const base = (readDraft(key) as Draft<T> | null)?.base ?? saved?.tree;
      writeDraft(key, changed ? { tree: next, name: next.name, version, base } : null);
    },
    [key, saved, same, version],
  );
  const step = useCallback(
    (made: Step<T>) => {
      const before = (histories.get(key) ?? NOTHING) as History<T>;
      histories.set(key, stepped(before, made));
      return before;
    },
    [key],
  );
  /** Put another form in place of the newest one; given as a function where it may be late. */
  const edit = useCallback(
    (next: T | ((newest: T) => T)) => {
      const newest = (readDraft(key) as Draft<T> | null)?.tree ?? null;
      step({ do: "edit", from: newest, now: Date.now() });
      keep(typeof next === "function" ? next(newest ?? saved?.tree ?? blank) : next);
    },
    [key, keep, step, saved, blank],
  );
  const undo = useCallback(() => {
    const { past } = step({ do: "undo", from: draft?.tree ?? null });
    keep(past.at(-1) ?? null);
  }, [draft, keep, step]);
  const redo = useCallback(() => {
    const { future } = step({ do: "redo", from: draft?.tree ?? null });
    keep(future.at(-1) ?? null);
  }, [draft, keep, step]);
  useOfferSteps(tree.name, history.past.length ? undo : null, history.future.length ? redo : null);

  const drop = useCallback(() => {
    step({ do: "forget" });
    setError(null);
    setSent(null);
    writeDraft(key, null);
  }, [key, step]);

  /**
   * Save a form over a version: the one that is edited over that it was made from when not given. Resolves to the id, or
   * null where it was refused.
   */
  const save = async (over = version, form = tree): Promise<string | null> => {
    setBusy(true);
    setError(null);
    try {
      if (form !== tree) keep(form);
      if (!saved) setSent(form);
      const made = await send(form, over);
      await refresh();
      step({ do: "forget" });
      // What was typed while it was on its way stays an edit of what is saved now.
      const newest = readDraft(key) as Draft<T> | null;
      writeDraft(key, null);
      if (newest && !same(newest.tree, form)) {
        writeDraft(`${prefix}${kind}/${made.id}`, { ...newest, version: made.version, base: form });
      }
      return made.id;
    } catch (refused) {
      setError(refused instanceof ApiError ? refused : new ApiError(0, "", String(refused), ""));
      return null;
    } finally {
      setBusy(false);
    }
  };
  const conflict: Conflict<T> | null =
    error?.status === 412 ? { theirs: error.body.theirs as T, version: error.body.version as number } : null;
  return {
    tree,
    /** The version that the form was made from. */
    version,
    /** The saved form that it was made from, where that is known. */
    base: draft?.base ?? null,
    changed: draft !== null,
    busy,
    error: conflict ? null : error,
    conflict,
    edit,
    drop,
    save,
    takeTheirs: async () => {
      drop();
      await refresh();
    },
    problemAt: (pointer: string): Problem | undefined => error?.at(pointer),
    problemUnder: (pointer: string): Problem | undefined =>
      error?.problems.find((one) => one.pointer.startsWith(pointer)),
  };
}

export type Editing<T extends { name: string }> = ReturnType<typeof useDraft<T>>;
