/** Elements of a page of its own that stand in a slot with nothing around them: what stays there, and what shows. */
const MARKS = ["data-nv-stays", "data-nv-shows"];

/** The slots of a drawn page: those that Navrel drew or marked. A page of its own may use the attribute otherwise. */
const SLOT = [".slot", ".nv-slot", ...MARKS.map((mark) => `[${mark}]`)]
  .map((one) => `[data-slot]${one}`)
  .join();

/** What is added to a slot stands in an element of its own inside of that: the outer one is the slot. */
export const slotsIn = (page: Document): Element[] =>
  [...page.querySelectorAll(SLOT)].filter(
    (slot) => slot.parentElement === null || slotAround(slot.parentElement) !== slotName(slot),
  );

export const slotName = (slot: Element | null): string => slot?.getAttribute("data-slot") ?? "";

/** The name of the slot that an element stands in, or is; empty for none. */
export const slotAround = (element: Element): string => slotName(element.closest(SLOT));

export const slotCalled = (page: Document, name: string): Element | undefined =>
  slotsIn(page).find((slot) => slotName(slot) === name);

/** What is drawn in a slot, without what marks it. */
export function drawnIn(slot: Element): string {
  if (!MARKS.some((mark) => slot.hasAttribute(mark))) return slot.innerHTML;
  const name = slotName(slot);
  const more = [...slot.ownerDocument.querySelectorAll("[data-nv-shows]")].filter(
    (one) => one !== slot && one.getAttribute("data-nv-shows") === name,
  );
  return [slot, ...more].map(unmarked).join("");
}

/** The markup of an element as it compares: without marks and comments; in one order what may stand in any. */
function unmarked(element: Element): string {
  const copy = element.cloneNode(true) as Element;
  for (const mark of ["data-slot", ...MARKS]) copy.removeAttribute(mark);
  // While its label is pointed at.
  copy.classList.remove("lit");
  for (const one of [copy, ...copy.querySelectorAll("*")]) {
    const names = [...one.classList].sort().join(" ");
    if (names) one.setAttribute("class", names);
    else one.removeAttribute("class");
    const written = [...one.attributes].sort((a, b) => (a.name < b.name ? -1 : 1));
    for (const attribute of written) one.removeAttributeNode(attribute);
    for (const attribute of written) one.setAttributeNode(attribute);
  }
  const comments = document.createNodeIterator(copy, NodeFilter.SHOW_COMMENT);
  for (let comment = comments.nextNode(); comment; comment = comments.nextNode())
    comment.parentNode?.removeChild(comment);
  return copy.outerHTML;
}
