import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { askAllElse, isRefreshing, useSite } from "./site";

/** Show what others write, people in other windows and programs, without being asked to. */
export function useKeepUp() {
  const client = useQueryClient();
  const site = useSite();
  const shown = useRef(site);
  useEffect(() => {
    const before = shown.current;
    shown.current = site;
    const same = before.version === site.version && before.live?.number === site.live?.number;
    // What was written here is asked for by whoever wrote it, and what hangs on the version by itself.
    if (before.slug === site.slug && !same && !isRefreshing()) askAllElse(client, site.slug);
  }, [client, site]);
}
