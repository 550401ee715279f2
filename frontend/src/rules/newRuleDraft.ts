import { useCallback } from "react";
import { useNavigate } from "react-router";
import { useDraftPrefix, writeDraft } from "../parts/drafts";
import { useLinkTo } from "../parts/site";
import type { RuleTree } from "./ruleTree";

export const isNew = (id: string | undefined) => id?.startsWith("new-") ?? false;

/** Open a new rule in the editor. Each has a place of its own, so that no half-made one is overwritten. */
export function useNewRule() {
  const prefix = useDraftPrefix();
  const navigate = useNavigate();
  const linkTo = useLinkTo();
  return useCallback(
    (tree: RuleTree) => {
      const id = `new-${Date.now().toString(36)}`;
      writeDraft(`${prefix}rule/${id}`, { tree, name: tree.name, version: 0 });
      navigate(linkTo(`rules/${id}`));
    },
    [prefix, navigate, linkTo],
  );
}
