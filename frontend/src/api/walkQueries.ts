import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answer, api } from "./client";
import { items, type LensParams, siteKey } from "./queries";

/** Which pages a walk goes through: those that publishing changes, one of each layout, or those of a search. */
export interface Walk {
  pages: "changed" | "layouts" | "search";
  query: string;
}

/** Pages in one walk; more are told as a number. */
const MOST_WALKED = 500;

/** All that is asked of walks, so that a mark can refresh it and nothing else. */
export const walksKey = (site: string) => [...siteKey(site), "walks"];

export const walkQuery = (site: string, walk: Walk, lens: LensParams) =>
  queryOptions({
    queryKey: [...walksKey(site), walk, walk.pages === "layouts" ? lens : null],
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: () =>
      answer(
        api.GET("/api/sites/{site}/walk", {
          params: { path: { site }, query: { ...walk, ...lens, limit: MOST_WALKED } },
        }),
      ),
  });

/** How far what publishing changes has been looked at. */
export const lookedQuery = (site: string) =>
  queryOptions({
    queryKey: [...walksKey(site), "looked"],
    queryFn: () => answer(api.GET("/api/sites/{site}/looked", { params: { path: { site } } })),
  });

export const previewLinksQuery = (site: string) =>
  queryOptions({
    queryKey: [...siteKey(site), "preview-links"],
    queryFn: () => items(api.GET("/api/sites/{site}/preview-links", { params: { path: { site } } })),
  });

export const remarksQuery = (site: string) =>
  queryOptions({
    queryKey: [...siteKey(site), "remarks"],
    queryFn: () => answer(api.GET("/api/sites/{site}/remarks", { params: { path: { site } } })),
  });

/** What a preview link leads to, for somebody without an account. */
export const sharedQuery = (token: string) =>
  queryOptions({
    queryKey: ["shared", token],
    retry: false,
    queryFn: () => answer(api.GET("/api/shared/{token}", { params: { path: { token } } })),
  });

export const sharedPageQuery = (token: string, path: string) =>
  queryOptions({
    queryKey: ["shared", token, path],
    retry: false,
    queryFn: () =>
      answer(api.GET("/api/shared/{token}/page", { params: { path: { token }, query: { path } } })),
  });
