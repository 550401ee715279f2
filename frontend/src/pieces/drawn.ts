import { WIDTHS } from "../parts/widths";

/** How one is drawn that stands on a page in its own HTML: laid out with the page, and cut out of it. */
export const ON_ITS_PAGE = { width: WIDTHS.desktop, picked: "alone", least: 0.33 } as const;

/** How a kind is drawn on the shelf: laid out for this width, cut at this height, in columns of this width. */
export const DRAWN: Record<string, { width: number; height: number; column: number }> = {
  header: { width: 1180, height: 112, column: 420 },
  footer: { width: 1180, height: 330, column: 420 },
  title: { width: 900, height: 190, column: 300 },
  sidebar: { width: 340, height: 420, column: 200 },
  widget: { width: 340, height: 230, column: 200 },
  template: { width: 640, height: 560, column: 170 },
};
