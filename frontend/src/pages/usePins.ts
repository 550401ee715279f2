import { useState } from "react";
import { answer, api, type Shapes } from "../api/client";
import { useSite } from "../parts/site";
import { useAct } from "../parts/useAct";
import { count } from "../parts/words";

/** Pinning on one page: an ordinary rule for that page alone, changed and taken off where it stands. */
export function usePins() {
  const site = useSite();
  const carryOut = useAct();
  const [pinning, setPinning] = useState(false);
  const act = (work: () => Promise<string>) => {
    setPinning(false);
    return carryOut(work);
  };
  const pin = (path: string, action: Shapes["ActionTree"], priority: number | null) =>
    act(async () => {
      const made = await answer(
        api.PUT("/api/sites/{site}/pins", {
          params: { path: { site: site.slug } },
          body: { path, action, priority },
        }),
      );
      return `Pinned on ${path}, by the rule ${made.rule.name}. It is in the draft, not live yet.`;
    });
  const pinAll = (paths: string[], action: Shapes["ActionTree"]) =>
    act(async () => {
      const body = { paths, action };
      const made = await answer(
        api.POST("/api/sites/{site}/pins", { params: { path: { site: site.slug } }, body }),
      );
      return `Pinned on ${count(made.pages, "page")}, each alone. It is in the draft, not live yet.`;
    });
  const unpin = (path: string, target: string) =>
    act(async () => {
      await api.DELETE("/api/sites/{site}/pins", {
        params: { path: { site: site.slug }, query: { path, target } },
      });
      return `Taken off ${path}. It is in the draft, not live yet.`;
    });
  return { pinning, setPinning, pin, pinAll, unpin };
}

export type Pins = ReturnType<typeof usePins>;
