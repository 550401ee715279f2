import type { Shapes } from "../api/client";
import { count, figure } from "../parts/words";

export type Binding = Shapes["BindingTree"];
export type Fit = Shapes["BindingFit"];

/** How each lies to its element, as it is called. */
export const HOWS: readonly (readonly [NonNullable<Binding["how"]>, string])[] = [
  ["element", "is the element"],
  ["before", "before the element"],
  ["after", "behind the element"],
  ["start", "inside, at its start"],
  ["end", "inside, at its end"],
];

/** How a binding fits, in words; what is amiss stands behind what is well. */
export function fitWords(fit: Fit): string {
  if (fit.problem) return fit.problem;
  if (!fit.pages) return "no page is built so";
  const found =
    fit.found === fit.pages
      ? `on all ${figure(fit.pages)}`
      : `on ${figure(fit.found)} of ${count(fit.pages, "page")}`;
  const several = fit.several > 0 && `more than one on ${figure(fit.several)}: the first counts`;
  const inside = fit.inside > 0 && `inside another slot’s on ${figure(fit.inside)}, so no place there`;
  return [found, several, inside].filter(Boolean).join(" · ");
}

/** Whether anything about a fit wants to be looked at. */
export const isAmiss = (fit: Fit) =>
  fit.problem !== "" || fit.found < fit.pages || fit.several > 0 || fit.inside > 0;
