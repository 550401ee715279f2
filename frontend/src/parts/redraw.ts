/**
 * Put another page in the place of the one that a frame shows, without the frame going blank in between and everything
 * in its head being read again. What is the same stays.
 */
export function redraw(page: Document, html: string) {
  const next = new DOMParser().parseFromString(html, "text/html");
  const root = page.documentElement;
  for (const { name } of [...root.attributes]) root.removeAttribute(name);
  for (const { name, value } of [...next.documentElement.attributes]) root.setAttribute(name, value);
  const kept = [...page.head.childNodes];
  const wanted = [...next.head.childNodes];
  if (kept.length !== wanted.length || kept.some((node, at) => !node.isEqualNode(wanted[at] as Node)))
    page.head.replaceChildren(...wanted.map((node) => page.adoptNode(node)));
  page.body.replaceWith(page.adoptNode(next.body));
}
