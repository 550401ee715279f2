import { useCallback } from "react";
import { useNavigate } from "react-router";
import { useDraftPrefix, writeDraft } from "../parts/drafts";
import { useLinkTo } from "../parts/site";
import type { GuardTree } from "./guardTree";

/** Open a new guard in the editor. */
export function useNewGuard() {
  const prefix = useDraftPrefix();
  const navigate = useNavigate();
  const linkTo = useLinkTo();
  return useCallback(
    (tree: GuardTree) => {
      const id = `new-${Date.now().toString(36)}`;
      writeDraft(`${prefix}guard/${id}`, { tree, name: tree.name, version: 0 });
      navigate(linkTo(`checks/guards/${id}`));
    },
    [prefix, navigate, linkTo],
  );
}
