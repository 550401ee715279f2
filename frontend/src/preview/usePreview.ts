import { useQuery } from "@tanstack/react-query";
import { previewQuery } from "../api/queries";
import { useSite } from "../parts/site";
import type { Shown } from "./sides";

/** A page as it is rendered. What was drawn of another page says nothing of this one. */
export function usePreview(shown: Shown, outlined: boolean, standing = true) {
  const site = useSite();
  const { path, lens, state, trial } = shown;
  const asked = useQuery({
    ...previewQuery(site.slug, path, lens, state, outlined, { standing, trial }),
    enabled: path !== "",
  });
  const kept = asked.data?.asked === path ? asked.data : undefined;
  return {
    /** What was drawn last of the page, through an earlier lens too. */
    kept,
    /** What is drawn of it just so; undefined until it has come. */
    data: asked.isPlaceholderData ? undefined : kept,
    error: asked.error,
  };
}
