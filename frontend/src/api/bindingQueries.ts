import { queryOptions } from "@tanstack/react-query";
import { answer, api, type Shapes } from "./client";
import { siteKey } from "./queries";

const at = (site: string) => ({ path: { site } });

/** Where the slots of pages are in their own HTML, and how that fits. */
export const bindingsQuery = (site: string) =>
  queryOptions({
    queryKey: [...siteKey(site), "bindings"],
    queryFn: () => answer(api.GET("/api/sites/{site}/bindings", { params: at(site) })),
  });

/** How bindings would fit, looked at on some pages of all sections. */
export const triedQuery = (site: string, bindings: Shapes["BindingTree"][]) =>
  queryOptions({
    queryKey: [...siteKey(site), "bindings-tried", bindings],
    retry: false,
    queryFn: () =>
      answer(api.POST("/api/sites/{site}/bindings/tried", { params: at(site), body: { bindings } })),
  });

/** Places that may be those of slots. */
export const proposedQuery = (site: string, inventoryVersion: number) =>
  queryOptions({
    queryKey: ["bindings-proposed", site, inventoryVersion],
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () => answer(api.GET("/api/sites/{site}/bindings/proposed", { params: at(site) })),
  });

/** A page in its own HTML, with the place of a slot outlined. */
export const placeQuery = (site: string, path: string, binding: Shapes["BindingTree"]) =>
  queryOptions({
    queryKey: [...siteKey(site), "place", path, binding],
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () =>
      answer(api.POST("/api/sites/{site}/bindings/picture", { params: at(site), body: { path, binding } })),
  });

/**
 * What stands in the places of slots today, and the rules that come to just that but for what is left as it is.
 *
 * `left`: the keys of finds that stay as they are; null: of those whose pieces would lack something.
 */
export const findsQuery = (site: string, version: number, left: string[] | null) =>
  queryOptions({
    queryKey: ["finds", site, version, left],
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: (known, query) => (query?.queryKey[2] === version ? known : undefined),
    queryFn: () =>
      answer(
        api.GET("/api/sites/{site}/finds", {
          params: { ...at(site), query: left ? { left: left.join(",") } : {} },
        }),
      ),
  });
