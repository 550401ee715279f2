import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answer, api, nameCsrfCookie, type Shapes } from "./client";

/** The lens as requests name it: a visitor's terms and a local date-time, empty for now. */
export interface LensParams {
  visitor: string;
  at: string;
}

/** Everything that is asked of one site stands under its slug, so that a write can refresh all of it. */
export const siteKey = (site: string) => ["site", site] as const;

export const sessionQuery = queryOptions({
  queryKey: ["session"],
  queryFn: async () => {
    const session = await answer(api.GET("/api/session"));
    nameCsrfCookie(session.csrf_cookie);
    return session;
  },
});

export const itemTypesQuery = queryOptions({
  queryKey: ["item-types"],
  queryFn: () => answer(api.GET("/api/item-types")),
  staleTime: Number.POSITIVE_INFINITY,
});

/** The entries of a list; what is listed here fits into one answer. */
export async function items<T>(call: Promise<{ data?: { items: T[] } }>): Promise<T[]> {
  return (await answer(call)).items;
}

/** What a site is; asked again and again, as others write too. */
export const siteQuery = (site: string) =>
  queryOptions({
    queryKey: [...siteKey(site), "info"],
    refetchInterval: 10_000,
    queryFn: () => answer(api.GET("/api/sites/{site}", { params: { path: { site } } })),
  });

export interface Tree {
  paths: string[];
  titles: string[];
  kinds: string[];
  types: string[];
  depths: number[];
}

/** The whole page tree, in as many answers as it takes. */
export const treeQuery = (site: string, inventoryVersion: number) =>
  queryOptions({
    queryKey: ["tree", site, inventoryVersion],
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: async (): Promise<Tree> => {
      const partFrom = (offset: number) =>
        answer(api.GET("/api/sites/{site}/pages", { params: { path: { site }, query: { offset } } }));
      const first = await partFrom(0);
      // How many come at once is the server's to say; once it is known, all others are asked for together.
      const step = Math.max(1, first.paths.length);
      const offsets = Array.from({ length: Math.ceil(first.total / step) }, (_, at) => at * step);
      const parts = [first, ...(await Promise.all(offsets.slice(1).map(partFrom)))];
      return {
        paths: parts.flatMap((part) => part.paths),
        titles: parts.flatMap((part) => part.titles),
        kinds: parts.flatMap((part) => part.kinds),
        types: parts.flatMap((part) => part.types),
        depths: parts.flatMap((part) => part.depths),
      };
    },
  });

/** What one fact comes to on every page, by page number. */
export const pageFactQuery = (site: string, inventoryVersion: number, fact: string) =>
  queryOptions({
    queryKey: ["page-fact", site, inventoryVersion, fact],
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () =>
      answer(api.GET("/api/sites/{site}/page-fact", { params: { path: { site }, query: { fact } } })),
  });

export const askLayout = (site: string, lens: LensParams, targets: string) =>
  answer(api.GET("/api/sites/{site}/layout", { params: { path: { site }, query: { ...lens, targets } } }));

/** What some targets come to, parted by commas; all of them where none is named. */
export const layoutQuery = (site: string, version: number, lens: LensParams, targets = "") =>
  queryOptions({
    queryKey: [...siteKey(site), "layout", version, lens, targets],
    placeholderData: keepPreviousData,
    // A column is as long as the site has pages: comparing it with the one before takes longer than drawing it.
    structuralSharing: false,
    queryFn: () => askLayout(site, lens, targets),
  });

export const searchQuery = (site: string, query: string) =>
  queryOptions({
    queryKey: [...siteKey(site), "search", query],
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: () =>
      answer(api.GET("/api/sites/{site}/search", { params: { path: { site }, query: { query } } })),
  });

export const traceQuery = (site: string, path: string, target: string, lens: LensParams) =>
  queryOptions({
    queryKey: [...siteKey(site), "trace", path, target, lens],
    placeholderData: keepPreviousData,
    queryFn: () =>
      answer(
        api.GET("/api/sites/{site}/trace", { params: { path: { site }, query: { path, target, ...lens } } }),
      ),
  });

/** The facts of a page. */
export const pageQuery = (site: string, path: string) =>
  queryOptions({
    queryKey: [...siteKey(site), "page", path],
    queryFn: () => answer(api.GET("/api/sites/{site}/page", { params: { path: { site }, query: { path } } })),
  });

export const termsQuery = (site: string) =>
  queryOptions({
    queryKey: [...siteKey(site), "terms"],
    queryFn: () =>
      items(api.GET("/api/sites/{site}/terms", { params: { path: { site }, query: { limit: 2000 } } })),
  });

/** In which targets some pages are not the same for everyone at any time. */
export const unlikeQuery = (site: string, paths: string[]) =>
  queryOptions({
    queryKey: [...siteKey(site), "unlike", paths],
    placeholderData: keepPreviousData,
    queryFn: () =>
      items(
        api.POST("/api/sites/{site}/unlike", {
          params: { path: { site }, query: { limit: 100 } },
          body: { paths },
        }),
      ),
  });

export const piecesQuery = (site: string) =>
  queryOptions({
    queryKey: [...siteKey(site), "pieces"],
    queryFn: () => items(api.GET("/api/sites/{site}/pieces", { params: { path: { site } } })),
  });

export const piecePagesQuery = (site: string, lens: LensParams) =>
  queryOptions({
    queryKey: [...siteKey(site), "piece-pages", lens],
    placeholderData: keepPreviousData,
    queryFn: () =>
      items(api.GET("/api/sites/{site}/piece-pages", { params: { path: { site }, query: { ...lens } } })),
  });

export const placesQuery = (site: string, lens: LensParams) =>
  queryOptions({
    queryKey: [...siteKey(site), "places", lens],
    queryFn: () => items(api.GET("/api/sites/{site}/places", { params: { path: { site }, query: lens } })),
  });

export const startersQuery = (site: string) =>
  queryOptions({
    queryKey: [...siteKey(site), "starters"],
    queryFn: () => items(api.GET("/api/sites/{site}/starters", { params: { path: { site } } })),
  });

export const menusQuery = (site: string) =>
  queryOptions({
    queryKey: [...siteKey(site), "menus"],
    queryFn: () => answer(api.GET("/api/sites/{site}/menus", { params: { path: { site } } })),
  });

export const dressesQuery = (site: string) =>
  queryOptions({
    queryKey: [...siteKey(site), "dresses"],
    queryFn: () => answer(api.GET("/api/sites/{site}/dresses", { params: { path: { site } } })),
  });

/** A page of the draft in a dress as it is edited, in one of its forms. */
export const dressedQuery = (
  site: string,
  dress: Shapes["DressTree"],
  path: string,
  form: "light" | "dark",
  lens: LensParams,
) =>
  queryOptions({
    queryKey: [...siteKey(site), "dressed", dress, path, form, lens],
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: () =>
      answer(
        api.POST("/api/sites/{site}/dressed", {
          params: { path: { site } },
          body: { ...lens, dress, path, form },
        }),
      ),
  });

export const filesQuery = (site: string) =>
  queryOptions({
    queryKey: [...siteKey(site), "files"],
    queryFn: () => items(api.GET("/api/sites/{site}/files", { params: { path: { site } } })),
  });

export const previewQuery = (
  site: string,
  path: string,
  lens: LensParams,
  state: string,
  outlines: boolean,
  { standing = true, trial = "" } = {},
) =>
  queryOptions({
    queryKey: [...siteKey(site), "preview", path, lens, state, outlines, standing, trial],
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: () =>
      answer(
        api.GET("/api/sites/{site}/preview", {
          params: { path: { site }, query: { path, ...lens, state, outlines, standing, trial } },
        }),
      ),
  });

export const sidebarReachQuery = (site: string, body: Shapes["SidebarReachRequest"]) =>
  queryOptions({
    queryKey: [...siteKey(site), "sidebar-reach", body],
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: () => answer(api.POST("/api/sites/{site}/sidebar-reach", { params: { path: { site } }, body })),
  });

export const settingsQuery = (site: string) =>
  queryOptions({
    queryKey: [...siteKey(site), "settings"],
    queryFn: () => answer(api.GET("/api/sites/{site}/settings", { params: { path: { site } } })),
  });

export const impactQuery = ({ slug: site, version, live }: Shapes["SiteInfo"]) =>
  queryOptions({
    queryKey: [...siteKey(site), "impact", version, live?.number],
    placeholderData: keepPreviousData,
    queryFn: () => answer(api.GET("/api/sites/{site}/impact", { params: { path: { site } } })),
  });

/** What publishing only some changes would change; each by its key. */
export const chosenImpactQuery = ({ slug: site, version, live }: Shapes["SiteInfo"], parts: string[]) =>
  queryOptions({
    queryKey: [...siteKey(site), "impact", version, live?.number, parts],
    retry: false,
    queryFn: () =>
      answer(api.POST("/api/sites/{site}/impact", { params: { path: { site } }, body: { parts } })),
  });

/** What saving an edit of a part of the site would change; `to`: where that part stands below the site. */
export const weighedQuery = (site: string, to: string, body: object, version: number) =>
  queryOptions({
    queryKey: [...siteKey(site), "weighed", to, body, version],
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      answer(
        api.POST("/api/sites/{site}/weighed-edit", {
          params: { path: { site } },
          body: { to, body: { ...body }, version },
          signal,
        }),
      ),
  });

/** What differs between a revision and a later one. */
export const comparisonQuery = (site: string, number: number, other: number) =>
  queryOptions({
    queryKey: [...siteKey(site), "comparison", number, other],
    retry: false,
    queryFn: () =>
      answer(
        api.GET("/api/sites/{site}/revisions/{number}/against/{other}", {
          params: { path: { site, number, other } },
        }),
      ),
  });

export const editsQuery = (site: string) =>
  queryOptions({
    queryKey: [...siteKey(site), "edits"],
    queryFn: () => answer(api.GET("/api/sites/{site}/edits", { params: { path: { site } } })),
  });

export const lensQuery = (site: string, lens: LensParams) =>
  queryOptions({
    queryKey: ["lens", site, lens],
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
    queryFn: () => answer(api.POST("/api/sites/{site}/lens", { params: { path: { site } }, body: lens })),
  });

/** Every look of a page, and which of them is seen through the lens. */
export const looksQuery = (site: string, path: string, lens: LensParams) =>
  queryOptions({
    queryKey: [...siteKey(site), "looks", path, lens],
    queryFn: () =>
      answer(api.GET("/api/sites/{site}/looks", { params: { path: { site }, query: { path, ...lens } } })),
  });

/** The moments of the coming days at which anything changes by itself on the pages of a search; all pages for none. */
export const boundariesQuery = (site: string, days: number, query: string) =>
  queryOptions({
    queryKey: [...siteKey(site), "boundaries", days, query],
    retry: false,
    queryFn: () =>
      items(api.GET("/api/sites/{site}/boundaries", { params: { path: { site }, query: { days, query } } })),
  });

/** What the checks find about the draft. */
export const findingsQuery = (site: string) =>
  queryOptions({
    queryKey: [...siteKey(site), "findings"],
    queryFn: () => items(api.GET("/api/sites/{site}/findings", { params: { path: { site } } })),
  });

/** When pages were last drawn and measured; null where they never were. */
export const measuredQuery = (site: string) =>
  queryOptions({
    queryKey: [...siteKey(site), "measured"],
    queryFn: async () =>
      (await answer(api.GET("/api/sites/{site}/measured", { params: { path: { site } } }))) ?? null,
  });

export const revisionsQuery = (site: string) =>
  queryOptions({
    queryKey: [...siteKey(site), "revisions"],
    queryFn: () => items(api.GET("/api/sites/{site}/revisions", { params: { path: { site } } })),
  });

/** The guards, how each stands, and the version of them all. */
export const guardsQuery = (site: string) =>
  queryOptions({
    queryKey: [...siteKey(site), "guards"],
    queryFn: () => answer(api.GET("/api/sites/{site}/guards", { params: { path: { site } } })),
  });

/** How a guard would stand that is being edited. */
export const triedGuardQuery = (site: string, guard: Shapes["GuardTree"]) =>
  queryOptions({
    queryKey: [...siteKey(site), "tried-guard", guard],
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: () =>
      answer(api.POST("/api/sites/{site}/tried-guard", { params: { path: { site } }, body: { guard } })),
  });

/** Guards that hold today and that nobody has written. */
export const proposedGuardsQuery = (site: string) =>
  queryOptions({
    queryKey: [...siteKey(site), "proposed-guards"],
    queryFn: () => items(api.GET("/api/sites/{site}/guards/proposed", { params: { path: { site } } })),
  });

/** Publications at a moment: those that wait, and what became of the others. */
export const plansQuery = (site: string) =>
  queryOptions({
    queryKey: [...siteKey(site), "plans"],
    queryFn: () => items(api.GET("/api/sites/{site}/plans", { params: { path: { site } } })),
  });
