import type { Shapes } from "../api/client";
import { contrast, ENOUGH } from "../dress/contrast";
import { slotAround } from "../parts/slots";

/** What is amiss in a page as it is drawn at one width, and in which piece. */
export type Amiss = Pick<Shapes["MeasuredItem"], "kind" | "piece" | "slot" | "words">;

/** Texts of a page that are measured; those further down are much like them. */
const MOST_TEXTS = 600;
/** Letters in which a thing is told; an id may be of any length. */
const MOST_WORDS = 300;
/** Pixels that rounding may add. */
const SLACK = 1.5;
/** Large text is read with less (WCAG 2.2, 1.4.3): from this many pixels on, or in bold from the other. */
const LARGE = 24;
const LARGE_BOLD = 18.66;
const ENOUGH_LARGE = 3;

/** Measure a page that stands in a frame as high as itself. */
export function measured(page: Document): Amiss[] {
  return [...wrapping(page), ...runningOver(page), ...unreadable(page), ...idsTwice(page), ...skipping(page)];
}

function found(element: Element, kind: Amiss["kind"], words: string): Amiss {
  const piece = element.closest("[data-piece]")?.getAttribute("data-piece") ?? "";
  return { kind, piece, slot: slotAround(element), words: words.slice(0, MOST_WORDS) };
}

/** Menus that stand in a line and need a second one. */
function wrapping(page: Document): Amiss[] {
  return [...page.querySelectorAll("nav.menu:not(.tree)")].flatMap((menu) => {
    const list = menu.querySelector(":scope > ul, :scope > .folds > ul");
    if (!list || !style(list).display.includes("flex")) return [];
    const lines = linesOf([...list.children].map((one) => one.getBoundingClientRect()));
    const name = menu.getAttribute("aria-label") ?? "";
    return lines > 1 ? [found(menu, "wraps", `The menu ${name} wraps onto ${lines} lines`)] : [];
  });
}

/** How many lines boxes stand in; 1 where they stand below each other, as that is meant. */
export function linesOf(boxes: { top: number; bottom: number }[]): number {
  const lines: { top: number; bottom: number; boxes: number }[] = [];
  for (const { top, bottom } of boxes.filter((box) => box.bottom > box.top)) {
    const line = lines.find((one) => (top + bottom) / 2 > one.top && (top + bottom) / 2 < one.bottom);
    if (line) line.boxes += 1;
    else lines.push({ top, bottom, boxes: 1 });
  }
  return lines.some((line) => line.boxes > 1) ? lines.length : 1;
}

/** Menus and pieces that reach over the edge of the page. */
function runningOver(page: Document): Amiss[] {
  const width = page.documentElement.clientWidth;
  return [...page.querySelectorAll("nav.menu, [data-piece]")]
    .filter((one) => one.getBoundingClientRect().right > width + SLACK && isSeen(one) && !isHeld(one))
    .filter((one, _, all) => !all.some((other) => other !== one && one.contains(other)))
    .map((one) => {
      const over = Math.round(one.getBoundingClientRect().right - width);
      const what = one.matches("nav") ? `The menu ${one.getAttribute("aria-label") ?? ""}` : "It";
      return found(one, "runs-over", `${what} reaches ${over} px over the edge`);
    });
}

/** Texts whose ink is too near to the ground that lies under them. */
function unreadable(page: Document): Amiss[] {
  const texts = page.createTreeWalker(page.body, NodeFilter.SHOW_TEXT);
  const seen = new Map<string, Amiss>();
  for (let count = 0; count < MOST_TEXTS && texts.nextNode(); ) {
    const text = texts.currentNode;
    const element = text.parentElement;
    const words = text.textContent?.trim() ?? "";
    if (!element || !words || !isSeen(element)) continue;
    count += 1;
    const ground = groundUnder(page, text, element);
    const ink = ground && colourOf(style(element).color);
    if (!ground || !ink) continue;
    const ratio = contrast(asText(over(ink, ground)), asText(ground));
    if (ratio >= enough(element)) continue;
    const amiss = found(element, "ink", "");
    const short = words.length > 40 ? `${words.slice(0, 39)}…` : words;
    const key = `${amiss.piece} ${amiss.slot}`;
    if (!seen.has(key))
      seen.set(key, {
        ...amiss,
        words: `“${short}” stands out ${ratio.toFixed(1)} to 1 from what lies under it`,
      });
  }
  return [...seen.values()];
}

/** Ids that stand twice (HTML, section 3.2.6): a link to the second leads to the first. */
function idsTwice(page: Document): Amiss[] {
  const known = new Set<string>();
  return [...page.querySelectorAll("[id]")].flatMap((one) => {
    const twice = known.has(one.id);
    known.add(one.id);
    return twice ? [found(one, "id-twice", `The id ${one.id} stands here a second time`)] : [];
  });
}

/** Headings a level below the one before them is left out (WCAG 2.2, technique G141). */
function skipping(page: Document): Amiss[] {
  let before = 0;
  return [...page.querySelectorAll("h1, h2, h3, h4, h5, h6")].filter(isSeen).flatMap((one) => {
    const level = Number(one.localName.slice(1));
    const skips = before > 0 && level > before + 1;
    const words = `“${one.textContent?.trim().slice(0, 40)}” is a heading of level ${level} after one of level ${before}`;
    before = level;
    return skips ? [found(one, "heading", words)] : [];
  });
}

function enough(element: Element): number {
  const { fontSize, fontWeight } = style(element);
  const size = Number.parseFloat(fontSize);
  return size >= LARGE || (size >= LARGE_BOLD && Number(fontWeight) >= 700) ? ENOUGH_LARGE : ENOUGH;
}

/** The colour under a text, all that lies there mixed; null where that is a picture, or something covers it. */
function groundUnder(page: Document, text: Node, element: Element): Colour | null {
  const range = page.createRange();
  range.selectNodeContents(text);
  const box = range.getClientRects()[0];
  if (!box || box.width < 1) return null;
  const stack = page.elementsFromPoint(box.left + Math.min(2, box.width / 2), box.top + box.height / 2);
  const place = stack.indexOf(element);
  if (place < 0) return null;
  const layers: Colour[] = [];
  for (const [number, one] of stack.slice(place).entries()) {
    const { backgroundColor, backgroundImage } = style(one);
    // What comes up twice is first met by what it draws before or after itself, of which no more is known.
    if (stack.includes(one, place + number + 1)) return null;
    if (backgroundImage !== "none" || one.matches("img, picture, video, canvas, svg, svg *")) return null;
    const colour = colourOf(backgroundColor);
    if (!colour) return null;
    layers.push(colour);
    if (colour.alpha === 1) break;
  }
  return layers.reduceRight((ground, layer) => over(layer, ground), {
    red: 255,
    green: 255,
    blue: 255,
    alpha: 1,
  });
}

interface Colour {
  red: number;
  green: number;
  blue: number;
  alpha: number;
}

/** A computed colour (CSS Color 4: serialised as `rgb()` or `rgba()`); null for another space. */
export function colourOf(text: string): Colour | null {
  const numbers = /^rgba?\(([^)]+)\)$/
    .exec(text)?.[1]
    ?.split(/[\s,/]+/)
    .map(Number);
  if (!numbers || numbers.length < 3 || numbers.some(Number.isNaN)) return null;
  const [red = 0, green = 0, blue = 0, alpha = 1] = numbers;
  return { red, green, blue, alpha };
}

/** One colour over another that lets nothing through. */
export function over(top: Colour, ground: Colour): Colour {
  const mix = (a: number, b: number) => a * top.alpha + b * (1 - top.alpha);
  return {
    red: mix(top.red, ground.red),
    green: mix(top.green, ground.green),
    blue: mix(top.blue, ground.blue),
    alpha: 1,
  };
}

const asText = ({ red, green, blue }: Colour) =>
  `#${[red, green, blue].map((part) => Math.round(part).toString(16).padStart(2, "0")).join("")}`;

const style = (element: Element) => (element.ownerDocument.defaultView ?? window).getComputedStyle(element);

function isSeen(element: Element): boolean {
  const box = element.getBoundingClientRect();
  return (
    box.width > 1 && box.height > 1 && element.checkVisibility(VISIBLE) && style(element).clipPath === "none"
  );
}

const VISIBLE = { opacityProperty: true, visibilityProperty: true };

/** Whether something is scrolled, or cut off, by what it stands in. */
function isHeld(element: Element): boolean {
  for (let above = element.parentElement; above && above.localName !== "body"; above = above.parentElement)
    if (style(above).overflowX !== "visible") return true;
  return false;
}
