/** The widths at which pages are looked at, in CSS pixels. */
export const WIDTHS = { phone: 390, tablet: 800, desktop: 1280 };
export type Width = keyof typeof WIDTHS;

/** Each as it is called. */
export const WIDTH_NAMES: readonly (readonly [Width, string])[] = [
  ["phone", "Phone"],
  ["tablet", "Tablet"],
  ["desktop", "Desktop"],
];
