import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { previewQuery } from "../api/queries";
import { walkQuery } from "../api/walkQueries";
import { useLens, useSite } from "../parts/site";
import { WIDTH_NAMES, WIDTHS, type Width } from "../parts/widths";
import { type Amiss, measured } from "./measure";

/** The highest a page is drawn for measuring, in CSS pixels. */
const HIGHEST = 12_000;

/** What is amiss in the same way, and where. */
export interface Found extends Amiss {
  width: Width;
  paths: string[];
}

export interface Measuring {
  found: Found[];
  /** Pages that were measured, of how many. */
  done: number;
  all: number;
  going: boolean;
  problem: string;
}

const NOTHING: Measuring = { found: [], done: 0, all: 0, going: false, problem: "" };

/** Draws one page of each layout at each width, out of sight, and measures what only a drawn page tells. */
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
    const found = new Map<string, Found>();
    const tell = (more: Partial<Measuring>) =>
      setState((known) => ({ ...(known ?? NOTHING), found: [...found.values()], ...more }));
    setState({ ...NOTHING, going: true });
    try {
      const walk = await client.fetchQuery(walkQuery(site.slug, { pages: "layouts", query: "" }, lens));
      const paths = walk.items.map((one) => one.path);
      tell({ all: paths.length });
      for (const [place, path] of paths.entries()) {
        const drawn = await client.fetchQuery(previewQuery(site.slug, path, lens, "draft", false));
        for (const [width] of WIDTH_NAMES) {
          if (signal.aborted) break;
          for (const amiss of await drawnAt(drawn.html, WIDTHS[width])) {
            const key = JSON.stringify([amiss, width]);
            const known = found.get(key) ?? { ...amiss, width, paths: [] };
            found.set(key, { ...known, paths: [...known.paths, path] });
          }
        }
        if (signal.aborted) break;
        tell({ done: place + 1 });
      }
      tell({ going: false });
    } catch (error) {
      tell({ going: false, problem: (error as Error).message });
    }
  }, [client, site.slug, lens]);
  return { state, start, stop };
}

/** What is amiss in a page drawn at a width; it stands beside everything that is seen meanwhile. */
async function drawnAt(html: string, width: number): Promise<Amiss[]> {
  const frame = document.createElement("iframe");
  frame.setAttribute("sandbox", "allow-same-origin");
  frame.setAttribute("aria-hidden", "true");
  frame.tabIndex = -1;
  frame.style.cssText = `position:fixed;left:${-2 * width}px;top:0;border:0;width:${width}px;height:800px`;
  const loaded = new Promise((resolve) => frame.addEventListener("load", resolve, { once: true }));
  frame.srcdoc = html;
  document.body.append(frame);
  try {
    await loaded;
    const page = frame.contentDocument;
    if (!page) return [];
    await page.fonts.ready;
    frame.style.height = `${Math.min(HIGHEST, page.documentElement.scrollHeight)}px`;
    return measured(page);
  } finally {
    frame.remove();
  }
}
