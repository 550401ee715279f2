import { useQuery } from "@tanstack/react-query";
import { layoutQuery, treeQuery } from "../api/queries";
import { useLens, useSite } from "../parts/site";
import type { Dress } from "./DressView";

/** The paths of the pages that wear a dress through the lens; undefined while that is not known. */
export function useWorn(dresses: Dress[]): (slug: string) => string[] | undefined {
  const site = useSite();
  const lens = useLens();
  const layout = useQuery(layoutQuery(site.slug, site.version, lens, "setting:dress"));
  const tree = useQuery(treeQuery(site.slug, site.inventory_version)).data;
  if (!layout.data || !tree || layout.isPlaceholderData) return () => undefined;
  const column = layout.data.columns.find((one) => one.target === "setting:dress");
  const known = new Set(dresses.map((one) => one.slug));
  const first = dresses[0]?.slug;
  return (slug) =>
    tree.paths.filter((_, number) => {
      const value = column?.outcomes[column.codes[number] ?? -1]?.value;
      return slug === (typeof value === "string" && known.has(value) ? value : first);
    });
}
