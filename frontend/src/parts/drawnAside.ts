/** Draw a page at a width, out of sight beside everything that is seen, and look at it once all that it shows is there. */
export async function drawnAside<T>(
  html: string,
  width: number,
  look: (page: Document, frame: HTMLIFrameElement) => T,
): Promise<T | undefined> {
  const frame = document.createElement("iframe");
  frame.setAttribute("sandbox", "allow-same-origin");
  frame.setAttribute("aria-hidden", "true");
  frame.tabIndex = -1;
  frame.style.cssText = `position:fixed;left:${-2 * width}px;top:0;border:0;width:${width}px;height:800px`;
  const loaded = new Promise((resolve) => frame.addEventListener("load", resolve, { once: true }));
  frame.srcdoc = html;
  document.body.append(frame);
  try {
    await loaded;
    const page = frame.contentDocument;
    if (!page) return undefined;
    await page.fonts.ready;
    return look(page, frame);
  } finally {
    frame.remove();
  }
}
