import { type QueryClient, queryOptions } from "@tanstack/react-query";
import { answered } from "../api/anew";
import { placeQuery, proposedQuery } from "../api/bindingQueries";
import type { Shapes } from "../api/client";
import { drawnAside } from "../parts/drawnAside";
import { isSeen } from "../parts/picked";
import { WIDTHS } from "../parts/widths";

type Proposal = Shapes["ProposedBinding"];

/** A proposal with what only its drawn page tells: whether its styles show the place at the width of a desktop. */
export type Placed = Proposal & { seen: boolean };

/** Pages that are drawn: each proposal names some, as different as can be, and mostly the same ones. */
const MOST_PAGES = 6;
/** Seconds after which a page is not waited for any more. */
const LONGEST = 6;

/**
 * Places that may be those of slots, as they stand on a page that is drawn: a sidebar at the side where it is, and what
 * the page's own styles do not show behind all others.
 */
export const placedQuery = (client: QueryClient, site: string, inventoryVersion: number) =>
  queryOptions({
    queryKey: ["bindings-placed", site, inventoryVersion],
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: async () => {
      const { proposed, asked } = await answered(client, proposedQuery(site, inventoryVersion));
      const boxes = new Map<Proposal, DOMRect[]>(proposed.map((one) => [one, []]));
      const paths = new Set(proposed.flatMap((one) => one.fit.seen));
      for (const path of [...paths].slice(0, MOST_PAGES)) {
        const those = proposed.filter((one) => one.fit.seen.includes(path));
        if (!those[0]) continue;
        const { html } = await answered(client, placeQuery(site, path, those[0].binding));
        const looked = drawnAside(html, WIDTHS.desktop, (page) => {
          for (const one of those) {
            const box = boxOf(page, one.binding.selector);
            if (box) boxes.get(one)?.push(box);
          }
        });
        await Promise.race([looked, new Promise((resolve) => setTimeout(resolve, LONGEST * 1000))]);
      }
      const placed = proposed.map((one) => placedBy(one, boxes.get(one) ?? []));
      return { asked, proposed: [...placed.filter((one) => one.seen), ...placed.filter((one) => !one.seen)] };
    },
  });

function boxOf(page: Document, selector: string): DOMRect | undefined {
  try {
    return page.querySelector(selector)?.getBoundingClientRect();
  } catch {
    // Not every selector that finds a place in a file is one to a browser.
    return undefined;
  }
}

/** A proposal as its boxes on some pages say; as it is where none is known. */
export function placedBy(one: Proposal, boxes: Pick<DOMRect, "x" | "y" | "width" | "height">[]): Placed {
  const box = boxes.find((each) => isSeen(each, WIDTHS.desktop));
  if (!box) return { ...one, seen: boxes.length === 0 };
  const atSide = one.binding.slot.startsWith("aside-") && box.width * 2 < WIDTHS.desktop;
  const slot = box.x + box.width / 2 < WIDTHS.desktop / 2 ? "aside-start" : "aside-end";
  return { ...one, seen: true, binding: atSide ? { ...one.binding, slot } : one.binding };
}
