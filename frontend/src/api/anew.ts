import type { InvalidateQueryFilters, QueryClient } from "@tanstack/react-query";

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
