import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answer, api, type Shapes } from "./client";
import { items, type LensParams, siteKey } from "./queries";

/* What is asked while rules and their conditions are written. */

/** On how many pages somebody would see a difference, were a rule so. */
export const trialQuery = (site: string, body: Shapes["TrialRequest"]) =>
  queryOptions({
    queryKey: [...siteKey(site), "trial", body],
    retry: false,
    queryFn: () => answer(api.POST("/api/sites/{site}/trial", { params: { path: { site } }, body })),
  });

/** What the checks find about a rule as it is edited. */
export const judgedQuery = (site: string, body: Shapes["EditedRuleRequest"]) =>
  queryOptions({
    queryKey: [...siteKey(site), "judged", body],
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: () => items(api.POST("/api/sites/{site}/judged", { params: { path: { site } }, body })),
  });

export const rulesQuery = (site: string, lens: LensParams) =>
  queryOptions({
    queryKey: [...siteKey(site), "rules", lens],
    placeholderData: keepPreviousData,
    queryFn: () =>
      items(api.GET("/api/sites/{site}/rules", { params: { path: { site }, query: { ...lens } } })),
  });

export const reachQuery = (site: string, body: Shapes["ReachRequest"]) =>
  queryOptions({
    queryKey: [...siteKey(site), "reach", body],
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: () => answer(api.POST("/api/sites/{site}/reach", { params: { path: { site } }, body })),
  });

export const suggestionsQuery = (site: string, paths: string[]) =>
  queryOptions({
    queryKey: [...siteKey(site), "suggestions", paths],
    queryFn: () =>
      items(api.POST("/api/sites/{site}/suggestions", { params: { path: { site } }, body: { paths } })),
  });

/** How many of some pages each rule reaches. */
export const reachingQuery = (site: string, paths: string[]) =>
  queryOptions({
    queryKey: [...siteKey(site), "reaching", paths],
    queryFn: () =>
      items(
        api.POST("/api/sites/{site}/reaching", {
          params: { path: { site }, query: { limit: 2000 } },
          body: { paths },
        }),
      ),
  });

/** On how many pages each of some terms holds. */
export const termPagesQuery = (site: string, terms: Shapes["TermTree"][]) =>
  queryOptions({
    queryKey: [...siteKey(site), "term-pages", terms],
    placeholderData: keepPreviousData,
    queryFn: async () => {
      const clauses = terms.map((term) => ({ terms: [term] }));
      const body = { clauses, domain: "page" as const };
      const read = await answer(api.POST("/api/sites/{site}/query", { params: { path: { site } }, body }));
      return read.clauses.map(([term]) => term?.pages ?? 0);
    },
  });

/** Why a rule does not show on a page, and what would change that. */
export const whyNotQuery = (site: string, body: Shapes["WhyNotRequest"]) =>
  queryOptions({
    queryKey: [...siteKey(site), "why-not", body],
    queryFn: () => answer(api.POST("/api/sites/{site}/why-not", { params: { path: { site } }, body })),
  });

/** A schedule in words, and the next times at which it is in force. */
export const scheduleQuery = (site: string, schedule: Shapes["ScheduleTree"]) =>
  queryOptions({
    queryKey: [...siteKey(site), "schedule", schedule],
    placeholderData: keepPreviousData,
    queryFn: () =>
      answer(api.POST("/api/sites/{site}/schedule", { params: { path: { site } }, body: { schedule } })),
  });

export const readQueryQuery = (site: string, text: string, domain: "page" | "visitor" | "search") =>
  queryOptions({
    queryKey: [...siteKey(site), "query", domain, text],
    placeholderData: keepPreviousData,
    queryFn: () =>
      answer(api.POST("/api/sites/{site}/query", { params: { path: { site } }, body: { text, domain } })),
  });

export const completionQuery = (site: string, text: string, caret: number, domain: "page" | "visitor") =>
  queryOptions({
    queryKey: [...siteKey(site), "completion", domain, text, caret],
    placeholderData: keepPreviousData,
    queryFn: () =>
      answer(
        api.POST("/api/sites/{site}/completion", {
          params: { path: { site } },
          body: { text, caret, domain },
        }),
      ),
  });

export const choicesQuery = (site: string, fact: string, text: string) =>
  queryOptions({
    queryKey: [...siteKey(site), "choices", fact, text],
    placeholderData: keepPreviousData,
    queryFn: () =>
      items(api.GET("/api/sites/{site}/choices", { params: { path: { site }, query: { fact, text } } })),
  });
