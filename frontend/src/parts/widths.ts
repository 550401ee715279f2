/** The widths at which pages are looked at, in CSS pixels. */
export const WIDTHS = { phone: 390, tablet: 800, desktop: 1280 };
/** The widths at which something is looked for that a page hides at that of a desktop. */
export const NARROWER = [WIDTHS.tablet, WIDTHS.phone];
export type Width = keyof typeof WIDTHS;

/** Each as it is called. */
export const WIDTH_NAMES: readonly (readonly [Width, string])[] = [
  ["phone", "Phone"],
  ["tablet", "Tablet"],
  ["desktop", "Desktop"],
];
