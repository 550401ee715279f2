import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answer, api, type Shapes } from "./client";
import { items, siteKey } from "./queries";

export const logQuery = (site: string, text: string, kind: Shapes["EventKind"] | "") =>
  queryOptions({
    queryKey: [...siteKey(site), "log", text, kind],
    placeholderData: keepPreviousData,
    queryFn: () =>
      answer(
        api.GET("/api/sites/{site}/log", {
          params: { path: { site }, query: { text, limit: 200, ...(kind ? { kind } : {}) } },
        }),
      ),
  });

/** All that is asked of the people of a site. */
export const peopleKey = (site: string) => [...siteKey(site), "people"];

export const peopleQuery = (site: string) =>
  queryOptions({
    queryKey: [...peopleKey(site), "list"],
    queryFn: () => items(api.GET("/api/sites/{site}/people", { params: { path: { site } } })),
  });

export const invitationsQuery = (site: string) =>
  queryOptions({
    queryKey: [...peopleKey(site), "invitations"],
    queryFn: () => items(api.GET("/api/sites/{site}/invitations", { params: { path: { site } } })),
  });

/** All that is asked of the servers that are told of publications. */
export const webhooksKey = (site: string) => [...siteKey(site), "webhooks"];

export const webhooksQuery = (site: string) =>
  queryOptions({
    queryKey: [...webhooksKey(site), "list"],
    staleTime: 0,
    refetchInterval: 3_000,
    queryFn: () => items(api.GET("/api/sites/{site}/webhooks", { params: { path: { site } } })),
  });

/** What was sent to one of them, and is to be. */
export const sendingsQuery = (site: string, number: number) =>
  queryOptions({
    queryKey: [...webhooksKey(site), "sendings", number],
    staleTime: 0,
    refetchInterval: 3_000,
    queryFn: () =>
      items(
        api.GET("/api/sites/{site}/webhooks/{number}/sendings", {
          params: { path: { site, number }, query: { limit: 50 } },
        }),
      ),
  });

/** What an invitation leads to. */
export const invitedQuery = (token: string) =>
  queryOptions({
    queryKey: ["invited", token],
    retry: false,
    queryFn: () => answer(api.GET("/api/invited/{token}", { params: { path: { token } } })),
  });

/** All that is asked of the news of a site. */
export const newsKey = (site: string) => ["news", site];

/** How many news of a site somebody has not read. */
export const unreadQuery = (site: string) =>
  queryOptions({
    queryKey: [...newsKey(site), "unread"],
    staleTime: 0,
    retry: false,
    refetchInterval: 60_000,
    queryFn: async () => {
      const found = await answer(api.GET("/api/sites/{site}/news/unread", { params: { path: { site } } }));
      return found.unread;
    },
  });

/** The newest news of a site. */
export const newsQuery = (site: string) =>
  queryOptions({
    queryKey: [...newsKey(site), "list"],
    staleTime: 0,
    queryFn: () =>
      items(api.GET("/api/sites/{site}/news", { params: { path: { site }, query: { limit: 50 } } })),
  });

/** Whether the first account is still to be made; an error where it is not. */
export const firstQuery = (token: string) =>
  queryOptions({
    queryKey: ["first", token],
    retry: false,
    queryFn: () => api.GET("/api/first/{token}", { params: { path: { token } } }).then(() => true),
  });

/** Whether signing in takes a second factor. */
export const factorQuery = queryOptions({
  queryKey: ["account", "factor"],
  staleTime: 0,
  queryFn: () => answer(api.GET("/api/second-factor")),
});

/** Where the account is signed in. */
export const signInsQuery = queryOptions({
  queryKey: ["account", "sign-ins"],
  staleTime: 0,
  queryFn: () => items(api.GET("/api/sign-ins")),
});

/** The tokens of the account. */
export const tokensQuery = queryOptions({
  queryKey: ["account", "tokens"],
  staleTime: 0,
  queryFn: () => items(api.GET("/api/tokens")),
});

/** Who else has a rule or a piece before them; asking says that oneself has. */
export const presenceQuery = (site: string, thing: string) =>
  queryOptions({
    queryKey: ["presence", site, thing],
    staleTime: 0,
    gcTime: 0,
    retry: false,
    refetchInterval: 15_000,
    queryFn: () =>
      answer(api.PUT("/api/sites/{site}/presence", { params: { path: { site } }, body: { thing } })),
  });
