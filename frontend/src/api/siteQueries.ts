import { queryOptions } from "@tanstack/react-query";
import { answer, api } from "./client";
import { items, siteKey } from "./queries";

export const sitesQuery = queryOptions({
  queryKey: ["sites"],
  queryFn: () => items(api.GET("/api/sites")),
});

/** The sites that are put away. */
export const archivedQuery = queryOptions({
  queryKey: ["sites", "archived"],
  queryFn: () => items(api.GET("/api/sites", { params: { query: { archived: true } } })),
});

/** What a site is. */
export const setUpQuery = (site: string) =>
  queryOptions({
    queryKey: [...siteKey(site), "set-up"],
    queryFn: () => answer(api.GET("/api/sites/{site}/set-up", { params: { path: { site } } })),
  });
