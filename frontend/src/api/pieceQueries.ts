import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answer, api, type Shapes } from "./client";
import { items, siteKey } from "./queries";

/** How a piece is drawn: with items that can be told apart; by itself also where its page is HTML of its own. */
type Drawn = { marked?: boolean; alone?: boolean };

/** The rendering of a piece on a page, the first when not given. */
export const pictureQuery = (
  site: string,
  slug: string,
  piece: Shapes["PieceTree"],
  path: string,
  drawn: Drawn = {},
) =>
  queryOptions({
    queryKey: [...siteKey(site), "picture", slug, piece, path, drawn],
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: () =>
      answer(
        api.POST("/api/sites/{site}/picture", {
          params: { path: { site } },
          body: { slug, piece, path, ...drawn },
        }),
      ),
  });

export const versionsQuery = (site: string, piece: string) =>
  queryOptions({
    queryKey: [...siteKey(site), "versions", piece],
    queryFn: () =>
      items(api.GET("/api/sites/{site}/pieces/{piece}/versions", { params: { path: { site, piece } } })),
  });

export const differenceQuery = (site: string, piece: string, version: number) =>
  queryOptions({
    queryKey: [...siteKey(site), "difference", piece, version],
    queryFn: () =>
      answer(api.GET("/api/sites/{site}/pieces/{piece}/difference", { params: { path: { site, piece } } })),
  });
