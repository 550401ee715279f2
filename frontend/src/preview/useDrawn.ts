import { useCallback, useEffect, useMemo, useState } from "react";
import { differingSlots } from "./sides";

/**
 * The pages that stand in frames side by side, or over each other: scrolled together (by share, or exactly), and
 * compared with the one that is meant.
 */
export function useDrawn(keys: string[], meant: string, exactly: boolean) {
  const [pages, setPages] = useState<Record<string, Document>>({});
  const drawn = useCallback(
    (key: string, page: Document) => setPages((known) => ({ ...known, [key]: page })),
    [],
  );
  const said = keys.join("\n");
  const shown = useMemo(
    () => said.split("\n").flatMap((key) => (pages[key] ? [[key, pages[key]] as const] : [])),
    [said, pages],
  );
  useEffect(
    () =>
      scrolledTogether(
        shown.map(([, page]) => page),
        exactly,
      ),
    [shown, exactly],
  );
  const mine = pages[meant];
  const differing = useMemo(
    () =>
      new Map(
        mine
          ? shown.filter(([key]) => key !== meant).map(([key, page]) => [key, differingSlots(mine, page)])
          : [],
      ),
    [shown, mine, meant],
  );
  return { drawn, differing };
}

/**
 * Scroll each page as far as the one that is scrolled: by its share of the whole, or exactly. Returns how to let go of
 * them.
 */
function scrolledTogether(pages: Document[], exactly: boolean): () => void {
  let leading: Document | null = null;
  const share = ({ documentElement: root }: Document) =>
    root.scrollHeight > root.clientHeight ? root.scrollTop / (root.scrollHeight - root.clientHeight) : 0;
  const letGo = pages.map((page) => {
    const follow = () => {
      if (leading && leading !== page) return;
      leading = page;
      for (const other of pages) {
        const root = other.documentElement;
        if (other === page) continue;
        root.scrollTop = exactly
          ? page.documentElement.scrollTop
          : share(page) * (root.scrollHeight - root.clientHeight);
      }
      // Those that follow tell of it before the next picture; only then may another lead.
      requestAnimationFrame(() =>
        requestAnimationFrame(() => {
          leading = null;
        }),
      );
    };
    page.defaultView?.addEventListener("scroll", follow, { passive: true });
    return () => page.defaultView?.removeEventListener("scroll", follow);
  });
  return () => {
    for (const one of letGo) one();
  };
}
