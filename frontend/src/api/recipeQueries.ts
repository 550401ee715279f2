import { queryOptions } from "@tanstack/react-query";
import { answer, api, type Shapes } from "./client";
import { siteKey } from "./queries";

const at = (site: string) => ({ path: { site } });

/** How the facts of pages are read, and on how many each is told. */
export const recipeQuery = (site: string) =>
  queryOptions({
    queryKey: [...siteKey(site), "recipe"],
    queryFn: () => answer(api.GET("/api/sites/{site}/recipe", { params: at(site) })),
  });

/** What a recipe comes to on twenty pages of all sections. */
export const triedRecipeQuery = (site: string, recipe: Shapes["FactRecipeTree"][]) =>
  queryOptions({
    queryKey: [...siteKey(site), "recipe-tried", recipe],
    retry: false,
    queryFn: () => answer(api.POST("/api/sites/{site}/recipe/tried", { params: at(site), body: { recipe } })),
  });

/** Places in which facts stand on the pages. */
export const proposedPlacesQuery = (site: string, inventoryVersion: number) =>
  queryOptions({
    queryKey: ["recipe-proposed", site, inventoryVersion],
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () => answer(api.GET("/api/sites/{site}/recipe/proposed", { params: at(site) })),
  });
