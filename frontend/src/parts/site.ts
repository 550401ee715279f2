import { type QueryClient, useQuery, useQueryClient } from "@tanstack/react-query";
import { createContext, useCallback, useContext, useEffect, useMemo } from "react";
import { useLocation, useNavigate, useSearchParams } from "react-router";
import { askAnew } from "../api/anew";
import type { Shapes } from "../api/client";
import {
  askLayout,
  type LensParams,
  layoutQuery,
  piecePagesQuery,
  piecesQuery,
  siteKey,
  siteQuery,
} from "../api/queries";
import { useDebounced } from "./useDebounced";

export const SiteContext = createContext<Shapes["SiteInfo"] | null>(null);

/** The site that the view is about. */
export function useSite(): Shapes["SiteInfo"] {
  const site = useContext(SiteContext);
  if (!site) throw new Error("a view stands outside of a site");
  return site;
}

/** Read and set parts of the address, so that every state can be linked to. An empty value leaves the address. */
export function useAddress() {
  const [params] = useSearchParams();
  const navigate = useNavigate();
  const set = useCallback(
    (changes: Record<string, string | null>, options?: { replace?: boolean }) => {
      // The window's address is the newest; the router's may wait for a render, and two changes must not undo each other.
      const next = new URLSearchParams(window.location.search);
      for (const [key, value] of Object.entries(changes)) {
        if (value) next.set(key, value);
        else next.delete(key);
      }
      navigate({ search: next.toString() }, { replace: options?.replace ?? true });
    },
    [navigate],
  );
  return { get: (key: string) => params.get(key) ?? "", set };
}

/**
 * Keep a part of the address as a view wants it, as long as that view is where the window is: one that is being left, and
 * still stands until the next has come, must not lead back to itself.
 */
export function useInAddress(name: string, wanted: string) {
  const { get, set } = useAddress();
  const { pathname } = useLocation();
  const stated = get(name);
  useEffect(() => {
    if (window.location.pathname === pathname && stated !== wanted) set({ [name]: wanted || null });
  }, [name, stated, wanted, set, pathname]);
}

/** The lens through which the site is seen. */
export function useLens(): LensParams {
  const { get } = useAddress();
  const visitor = get("visitor");
  const at = get("at");
  return useMemo(() => ({ visitor, at }), [visitor, at]);
}

/** The address of a view of this site, keeping the lens. */
export function useLinkTo() {
  const site = useSite();
  const lens = useLens();
  return useCallback(
    (view: string, params: Record<string, string> = {}) => {
      const kept = Object.entries(lens).filter(([, value]) => value);
      const search = new URLSearchParams({ ...params, ...Object.fromEntries(kept) }).toString();
      return `/${site.slug}/${view}${search ? `?${search}` : ""}`;
    },
    [site.slug, lens],
  );
}

/** The layouts that are in sight; where there are columns of a list, those and not the ones that are summed up. */
export function layoutsInSight(client: QueryClient, site: string): { lens: LensParams; targets: string }[] {
  const active = client.getQueryCache().findAll({ queryKey: [...siteKey(site), "layout"], type: "active" });
  const found = active.map(({ queryKey }) => ({
    lens: queryKey[4] as LensParams,
    targets: queryKey[5] as string,
  }));
  const listed = found.filter(({ targets }) => targets !== "");
  return listed.length ? listed : found;
}

/** How many writes are being asked anew about. */
let refreshing = 0;

/** Whether a write that was made in this window is being asked anew about. */
export const isRefreshing = () => refreshing > 0;

/**
 * Ask everything about the site anew, after a write. The layout in sight comes first, as a hand waits for its strips;
 * it is asked for once, and kept under the version that it tells. All else waits until they are drawn.
 */
export function useRefresh() {
  const client = useQueryClient();
  const site = useSite();
  return useCallback(async () => {
    refreshing++;
    try {
      await askAll(client, site.slug);
    } finally {
      refreshing--;
    }
  }, [client, site.slug]);
}

async function askAll(client: QueryClient, site: string) {
  const newest = layoutsInSight(client, site).map(async ({ lens, targets }) => {
    const layout = await askLayout(site, lens, targets);
    client.setQueryData(layoutQuery(site, layout.version, lens, targets).queryKey, layout);
    client.setQueryData(siteQuery(site).queryKey, (info) => info && { ...info, version: layout.version });
  });
  await Promise.all(newest);
  if (newest.length) await drawn();
  await client.refetchQueries({ queryKey: siteQuery(site).queryKey });
  await askAllElse(client, site);
}

/** What is asked for by the version of a site, which tells by itself that it is another; and what tells that. */
const BY_VERSION = ["info", "layout", "impact"];

/** Ask anew all else about a site. */
export const askAllElse = (client: QueryClient, site: string) =>
  askAnew(client, {
    queryKey: siteKey(site),
    predicate: ({ queryKey: [, , what] }) => !BY_VERSION.includes(String(what)),
  });

/** How long after an edit it is asked what nobody looks at, in milliseconds: a hand comes first. */
const RESTED_AFTER = 1200;

/** Whether the newest edit has rested for a while, so that what takes the server long may be asked. */
export function useRested(): boolean {
  const { version } = useSite();
  return useDebounced(version, RESTED_AFTER) === version;
}

/** Until what is known has been drawn, or would be were the window in sight. */
const drawn = () =>
  new Promise((resolve) => {
    requestAnimationFrame(() => setTimeout(resolve));
    setTimeout(resolve, 200);
  });

const NO_COLUMNS: Shapes["TargetColumn"][] = [];

/** What every target comes to on every page, through the lens; none while that is not known, or not wanted. */
export function useAllColumns(enabled = true): Shapes["TargetColumn"][] {
  const site = useSite();
  return (
    useQuery({ ...layoutQuery(site.slug, site.version, useLens()), enabled }).data?.columns ?? NO_COLUMNS
  );
}

export type PieceRow = Shapes["PieceRow"];

/** The site's pieces, in order and by slug; `known` is false until they have come. */
export function usePieces(): { list: PieceRow[]; bySlug: Map<string, PieceRow>; known: boolean } {
  const site = useSite();
  const pieces = useQuery(piecesQuery(site.slug));
  return useMemo(() => {
    const list = pieces.data ?? [];
    const bySlug = new Map(list.map((piece) => [piece.slug, piece]));
    return { list, bySlug, known: pieces.data !== undefined };
  }, [pieces.data]);
}

/** How many pages show a piece through the lens; undefined while that is not known. */
export function usePiecePages(): (slug: string) => number | undefined {
  const shownOn = usePiecesShown();
  return useCallback((slug) => shownOn(slug)?.pages, [shownOn]);
}

/** On how many pages a piece shows through the lens, and some of them. */
export type ShownOn = Pick<Shapes["PiecePagesRow"], "pages" | "some">;

const NOWHERE: ShownOn = { pages: 0, some: [] };

/** Where pieces show; undefined while that is not known. */
export function usePiecesShown(): (slug: string) => ShownOn | undefined {
  const site = useSite();
  const pages = useQuery(piecePagesQuery(site.slug, useLens()));
  return useMemo(() => {
    if (!pages.data) return () => undefined;
    const shown = new Map(pages.data.map((one) => [one.slug, one]));
    return (slug) => shown.get(slug) ?? NOWHERE;
  }, [pages.data]);
}
