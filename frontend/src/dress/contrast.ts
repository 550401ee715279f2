/** The relative luminance of a colour written as # and six digits (WCAG 2.2, definition of relative luminance). */
export function luminance(colour: string): number {
  const [red = 0, green = 0, blue = 0] = [1, 3, 5].map((at) => {
    const part = Number.parseInt(colour.slice(at, at + 2), 16) / 255;
    return part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * red + 0.7152 * green + 0.0722 * blue;
}

/** The contrast ratio of two colours, from 1 to 21 (WCAG 2.2, definition of contrast ratio). */
export function contrast(one: string, other: string): number {
  const [lighter = 1, darker = 0] = [luminance(one), luminance(other)].sort((a, b) => b - a);
  return (lighter + 0.05) / (darker + 0.05);
}

/** Text against what it stands on needs this much (WCAG 2.2, success criterion 1.4.3). */
export const ENOUGH = 4.5;

/** What is read on what: the ink, the ground, and what stands so. */
const PAIRS = [
  ["ink", "paper", "text"],
  ["brand", "paper", "links"],
  ["ink", "soft", "text on soft ground"],
  ["brand", "soft", "links on soft ground"],
  ["on-brand", "brand", "text on the brand colour"],
  ["on-accent", "accent", "text on the accent colour"],
] as const;

export interface Reading {
  what: string;
  ink: string;
  ground: string;
  ratio: number;
}

/** How well the colours of a dress can be read on each other. */
export const readings = (colours: Record<string, string>): Reading[] =>
  PAIRS.map(([ink, ground, what]) => ({
    what,
    ink: colours[ink] ?? "#000000",
    ground: colours[ground] ?? "#ffffff",
    ratio: contrast(colours[ink] ?? "#000000", colours[ground] ?? "#ffffff"),
  }));

/** A written colour with all of its six digits, as fields for colours take it. */
export const longColour = (colour: string) =>
  colour.length === 4
    ? `#${[...colour.slice(1)].map((digit) => digit + digit).join("")}`.toLowerCase()
    : colour.toLowerCase();
