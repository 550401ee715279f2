import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { answered, askAnew } from "../api/anew";
import { answer, api, type Shapes } from "../api/client";
import { findingsQuery, measuredQuery, previewQuery } from "../api/queries";
import { walkQuery } from "../api/walkQueries";
import { drawnAside } from "../parts/drawnAside";
import { useLens, useSite } from "../parts/site";
import { WIDTH_NAMES, WIDTHS, type Width } from "../parts/widths";
import { type Amiss, measured } from "./measure";

type Item = Shapes["MeasuredItem"];

/** Things amiss that are kept. */
const MOST_KEPT = 500;
/** The highest a page is drawn for measuring, in CSS pixels. */
const HIGHEST = 12_000;

export interface Measuring {
  /** Pages that were measured, of how many. */
  done: number;
  all: number;
  going: boolean;
  problem: string;
}

interface Seen {
  amiss: Amiss;
  width: Width;
  path: string;
}

const NOTHING: Measuring = { done: 0, all: 0, going: false, problem: "" };

/** Draws one page of each layout at each width, out of sight, measures what only a drawn page tells, and keeps it. */
export function useMeasuring() {
  const site = useSite();
  const lens = useLens();
  const client = useQueryClient();
  const [state, setState] = useState<Measuring | null>(null);
  const running = useRef<AbortController | null>(null);
  useEffect(() => () => running.current?.abort(), []);
  const stop = useCallback(() => running.current?.abort(), []);
  const start = useCallback(async () => {
    running.current?.abort();
    const run = new AbortController();
    running.current = run;
    const { signal } = run;
    const found: Seen[] = [];
    const tell = (more: Partial<Measuring>) => setState((known) => ({ ...(known ?? NOTHING), ...more }));
    setState({ ...NOTHING, going: true });
    try {
      const walk = await answered(client, walkQuery(site.slug, { pages: "layouts", query: "" }, lens));
      const paths = walk.items.map((one) => one.path);
      tell({ all: paths.length });
      for (const [place, path] of paths.entries()) {
        const drawn = await answered(client, previewQuery(site.slug, path, lens, "draft", false));
        for (const [width] of WIDTH_NAMES) {
          if (signal.aborted) break;
          for (const amiss of await drawnAt(drawn.html, WIDTHS[width])) found.push({ amiss, width, path });
        }
        if (signal.aborted) return setState(null);
        tell({ done: place + 1 });
      }
      const params = { path: { site: site.slug } };
      const body = { version: site.version, items: together(found).slice(0, MOST_KEPT) };
      const kept = await answer(api.PUT("/api/sites/{site}/measured", { params, body }));
      client.setQueryData(measuredQuery(site.slug).queryKey, kept);
      await askAnew(client, findingsQuery(site.slug));
      setState(null);
    } catch (error) {
      tell({ going: false, problem: (error as Error).message });
    }
  }, [client, site.slug, site.version, lens]);
  return { state, start, stop };
}

/** What is amiss in the same way as one thing: with all its pages, and the widths at which it is so on them. */
export function together(seen: Seen[]): Item[] {
  const ways = new Map<string, Seen[]>();
  for (const one of seen) {
    const key = JSON.stringify([one.amiss, one.width]);
    ways.set(key, [...(ways.get(key) ?? []), one]);
  }
  const items = new Map<string, Item>();
  for (const [{ amiss, width, path }, ...more] of ways.values() as Iterable<[Seen, ...Seen[]]>) {
    const paths = [{ path }, ...more].map((one) => one.path);
    const key = JSON.stringify([amiss, paths]);
    const known = items.get(key) ?? { ...amiss, widths: [], paths };
    items.set(key, { ...known, widths: [...known.widths, width] });
  }
  return [...items.values()];
}

/** What is amiss in a page drawn at a width, in a frame as high as itself. */
const drawnAt = async (html: string, width: number): Promise<Amiss[]> =>
  (await drawnAside(html, width, (page, frame) => {
    frame.style.height = `${Math.min(HIGHEST, page.documentElement.scrollHeight)}px`;
    return measured(page);
  })) ?? [];
