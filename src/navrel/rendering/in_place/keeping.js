/*
 * Scripts that draw a page anew in the browser (they "hydrate" it) count on finding it as it was written, and take back
 * what was put into it. So it stands for them as it was written until they have drawn it, and then what was put there
 * is put there again, as often as they draw that place. Links lead to whole pages, which have a layout of their own.
 */
(({ places, title }) => {
  // How often a place is filled at the most: a page that never rests is left alone.
  const MOST = 50;
  // Milliseconds after the page has loaded when it is taken for drawn, whatever draws it; and while the title is kept.
  const [DRAWN, SETTLED] = [1200, 4000];

  const stated = title ? document.title : null;
  const comments = document.createTreeWalker(document, NodeFilter.SHOW_COMMENT);
  const fences = new Map();
  while (comments.nextNode()) fences.set(comments.currentNode.data, comments.currentNode);
  const kept = places.flatMap(({ ways, stood }, number) => {
    const [from, until] = [fences.get(`nv-kept ${number}`), fences.get(`nv-kept-until ${number}`)];
    if (!from || !until || from.parentNode !== until.parentNode) return [];
    const put = document.createRange();
    put.setStartAfter(from);
    put.setEndBefore(until);
    const nodes = [...put.extractContents().childNodes];
    if (stood) until.before(put.createContextualFragment(stood));
    from.remove();
    until.remove();
    return [{ ways, nodes, live: [], hidden: [], left: MOST }];
  });
  document.currentScript.remove();

  let [loaded, settled] = [false, false];
  const hide = (element) => element.style.setProperty("display", "none", "important");
  const isOurs = (element) => kept.some((place) => place.live.some((node) => node.contains(element)));
  const isDrawn = (element) =>
    loaded ||
    Object.keys(element).some((name) => name.startsWith("__react")) ||
    [...document.body.children].some((child) => "__vue_app__" in child);
  const found = ([how, selector]) => {
    try {
      const element = [...document.querySelectorAll(selector)].find((one) => !isOurs(one));
      return element && [how, element];
    } catch {
      return null; // a selector that browsers do not know
    }
  };
  const stands = ({ live, hidden }) =>
    live.length + hidden.length > 0 && [...live, ...hidden].every((node) => node.isConnected);

  function fill(place) {
    const at = place.ways.map(found).find(Boolean);
    if (!at || !isDrawn(at[1])) return;
    const [how, element] = at;
    place.left -= 1;
    for (const node of place.live) node.remove();
    place.live = place.nodes.map((node) => node.cloneNode(true));
    // What the page's own scripts made stays in the page, unseen: they count on it.
    place.hidden = how === "element" ? [element] : how === "inside" ? [...element.children] : [];
    place.hidden.forEach(hide);
    if (how === "element" || how === "before") element.before(...place.live);
    else if (how === "after") element.after(...place.live);
    else if (how === "start") element.prepend(...place.live);
    else element.append(...place.live);
  }

  function look() {
    for (const place of kept) if (place.left > 0 && !stands(place)) fill(place);
    if (stated !== null && !settled && document.title !== stated) document.title = stated;
  }

  let asked = false;
  const lookSoon = () => {
    if (asked) return;
    asked = true;
    requestAnimationFrame(() => {
      asked = false;
      look();
      if (!loaded) lookSoon();
    });
  };
  lookSoon();
  new MutationObserver(lookSoon).observe(document, { childList: true, characterData: true, subtree: true });
  addEventListener("load", () => {
    setTimeout(() => {
      loaded = true;
      lookSoon();
    }, DRAWN);
    setTimeout(() => {
      settled = true;
    }, SETTLED);
  });

  const plain = (path) => path.replace(/(?:\/|\/index\.html|\.html)$/, "");
  const elsewhere = (address) => {
    if (!URL.canParse(address, document.baseURI)) return "";
    const to = new URL(address, document.baseURI);
    return to.origin === location.origin && plain(to.pathname) !== plain(location.pathname) ? to.href : "";
  };
  const follow = (event) => {
    const link = event.target.closest?.("a[href]");
    const isPlain = !(event.button || event.metaKey || event.ctrlKey || event.shiftKey || event.altKey);
    const isHere = link && (!link.target || link.target === "_self") && !link.hasAttribute("download");
    if (isPlain && isHere && elsewhere(link.getAttribute("href"))) event.stopImmediatePropagation();
  };
  addEventListener("click", follow, { capture: true });
  const push = history.pushState;
  history.pushState = function (state, unused, address) {
    const to = address == null ? "" : elsewhere(String(address));
    if (to) location.assign(to);
    else push.call(this, state, unused, address);
  };
})(
