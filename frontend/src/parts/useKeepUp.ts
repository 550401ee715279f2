import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { siteQuery } from "../api/queries";
import { askAllElse, isRefreshing, useSite } from "./site";

/** How often it is looked whether others wrote anything, in milliseconds, while the window is in sight. */
const LOOKED_EVERY = 10_000;

/** Show what others write, people in other windows and programs, without being asked to. */
export function useKeepUp() {
  const client = useQueryClient();
  const { slug } = useSite();
  const info = useQuery({ ...siteQuery(slug), refetchInterval: LOOKED_EVERY }).data;
  const state = info && `${slug} ${info.version} ${info.live?.number}`;
  const shown = useRef(state);
  useEffect(() => {
    if (shown.current === state) return;
    shown.current = state;
    // What was written here is asked for by whoever wrote it, and what hangs on the version by itself.
    if (isRefreshing()) return;
    askAllElse(client, slug);
  }, [client, slug, state]);
}
