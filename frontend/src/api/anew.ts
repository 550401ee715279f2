import {
  type FetchQueryOptions,
  type InvalidateQueryFilters,
  isCancelledError,
  type QueryClient,
  type QueryKey,
} from "@tanstack/react-query";

/**
 * Ask anew what some queries ask, after a write.
 *
 * A query that waits for its first answer would take that for the new one, though it may be from before the write: it
 * is given up first. One that has an answer gives up by itself what is on its way.
 */
export async function askAnew(client: QueryClient, filters: InvalidateQueryFilters) {
  const { predicate, ...others } = filters;
  await client.cancelQueries({
    ...others,
    predicate: (query) => query.state.data === undefined && (predicate?.(query) ?? true),
  });
  await client.invalidateQueries(filters);
}

/** What a query is answered; asked again where it was given up, as somebody wrote meanwhile. */
export async function answered<T, D, K extends QueryKey>(
  client: QueryClient,
  query: FetchQueryOptions<T, Error, D, K>,
) {
  for (;;) {
    try {
      return await client.fetchQuery(query);
    } catch (error) {
      if (!isCancelledError(error)) throw error;
    }
  }
}
