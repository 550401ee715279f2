import { queryOptions } from "@tanstack/react-query";
import { answer, api } from "./client";
import { items, siteKey } from "./queries";

/** What was taken in, newest first. */
export const intakesQuery = (site: string) =>
  queryOptions({
    queryKey: [...siteKey(site), "intakes"],
    queryFn: () => items(api.GET("/api/sites/{site}/intakes", { params: { path: { site } } })),
  });

/** The crawls that stopped halfway, newest first. */
export const unfinishedQuery = (site: string) =>
  queryOptions({
    queryKey: [...siteKey(site), "intakes", "unfinished"],
    queryFn: () => answer(api.GET("/api/sites/{site}/intakes/unfinished", { params: { path: { site } } })),
  });
