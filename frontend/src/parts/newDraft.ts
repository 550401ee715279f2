import { useCallback } from "react";
import { useLocation, useNavigate } from "react-router";
import { addressOf, type DraftKind, useDraftPrefix, writeDraft } from "./drafts";
import { useLinkTo } from "./site";

/** Whether an address leads to something that was never saved. What is not written down of it is what it begins as. */
export const isNew = (id: string | undefined) => id?.startsWith("new-") ?? false;

/**
 * The key of the editor of what an address names, and how to go to the address that this has once it is saved: what was
 * made or renamed goes on in the editor that it was written in, where the focus is.
 */
export function useEditor(id: string | undefined) {
  const editor = (useLocation().state as { editor?: string } | null)?.editor ?? id;
  return { editor, onward: { replace: true, state: { editor } } };
}

/** Open something new in its editor. Each has a place of its own, so that no half-made one is overwritten. */
export function useNewDraft<T extends { name: string }>(kind: DraftKind) {
  const prefix = useDraftPrefix();
  const navigate = useNavigate();
  const linkTo = useLinkTo();
  return useCallback(
    (tree: T) => {
      const id = `new-${Date.now().toString(36)}`;
      writeDraft(`${prefix}${kind}/${id}`, { tree, name: tree.name, version: 0 });
      navigate(linkTo(...addressOf({ kind, id, name: tree.name })));
    },
    [kind, prefix, navigate, linkTo],
  );
}
