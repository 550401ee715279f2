/** What a picture of a page is to show: what stands between two comments on it. */
const [FROM, UNTIL] = ["nv-picked", "nv-picked-until"];

/** Whether anything is picked on a page. */
export const hasPicked = (html: string) => html.includes(`<!--${FROM}-->`);

/** Where something stands in the window of its page, in pixels of the layout. */
export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** What is picked on a page; null where nothing is. */
export function pickedOn(page: Document): Range | null {
  const comments = page.createNodeIterator(page, NodeFilter.SHOW_COMMENT);
  const range = page.createRange();
  for (let one = comments.nextNode(); one; one = comments.nextNode()) {
    if (one.nodeValue === FROM) range.setStartAfter(one);
    if (one.nodeValue !== UNTIL) continue;
    range.setEndBefore(one);
    return range;
  }
  return null;
}

/** Whether a visitor sees what is picked, where it was brought into view: not what is see-through or lies under another. */
export function isUncovered(page: Document, range: Range, { x, y, width, height }: Box): boolean {
  const elements = elementsIn(range);
  if (elements.length && !elements.some((one) => one.checkVisibility(VISIBLY))) return false;
  const view = page.defaultView as Window;
  const top = Math.max(y, 0);
  const down = Math.min(top + height, view.innerHeight) - top;
  return SPOTS.some(([across, along]) => {
    const hit = page.elementFromPoint(x + width * across, top + down * along);
    return hit !== null && (range.intersectsNode(hit) || hit.contains(range.commonAncestorContainer));
  });
}

const VISIBLY = { opacityProperty: true, visibilityProperty: true };
/** Where it is looked whether something lies over it, as shares of its width and height. */
const SPOTS = [0.1, 0.5, 0.9].flatMap((across) => [0.2, 0.5, 0.8].map((along) => [across, along] as const));

/** Whether a box can be seen at all: what is put away beside the page cannot. */
export const isSeen = (box: Box, width: number) =>
  box.width > 0 && box.height > 0 && box.x < width && box.x + box.width > 0;

/** Scroll what is picked into the window of its page, and say where it is there. */
export function broughtIntoView(page: Document, range: Range): Box {
  const view = page.defaultView as Window;
  // Scrolled by hand: what a browser does to bring an element into view would move the windows around this one too.
  const around = range.commonAncestorContainer;
  const nearest = around.nodeType === Node.ELEMENT_NODE ? (around as Element) : around.parentElement;
  for (let one = nearest; one; one = one.parentElement)
    if (one !== page.scrollingElement && one.scrollHeight > one.clientHeight) {
      const down = boxOf(range).y - one.getBoundingClientRect().y;
      if (down < 0 || down > one.clientHeight)
        one.scrollTo({ top: one.scrollTop + down, behavior: "instant" });
    }
  const { y, height } = boxOf(range);
  // In the middle nothing that stays at an edge of the window lies over it.
  const above = Math.max(0, (view.innerHeight - height) / 2);
  view.scrollTo({ top: view.scrollY + y - above, behavior: "instant" });
  return boxOf(range);
}

/** The box around what is picked: around all in it where it has none of its own, as around what floats. */
function boxOf(range: Range): Box {
  const own = range.getBoundingClientRect();
  if (own.width && own.height) return own;
  const boxes = elementsIn(range)
    .map((one) => one.getBoundingClientRect())
    .filter((box) => box.width && box.height);
  if (!boxes.length) return own;
  const [x, y] = [Math.min(...boxes.map((box) => box.left)), Math.min(...boxes.map((box) => box.top))];
  const right = Math.max(...boxes.map((box) => box.right));
  return { x, y, width: right - x, height: Math.max(...boxes.map((box) => box.bottom)) - y };
}

/** The elements that a range holds, or a part of which it holds. */
function elementsIn(range: Range): Element[] {
  const around = range.commonAncestorContainer;
  if (around.nodeType !== Node.ELEMENT_NODE) return [];
  return [...(around as Element).querySelectorAll("*")].filter((one) => range.intersectsNode(one));
}
