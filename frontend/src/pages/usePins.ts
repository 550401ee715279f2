import { useState } from "react";
import { answer, api, type Shapes } from "../api/client";
import { useMessage, useTellError } from "../parts/messages";
import { useRefresh, useSite } from "../parts/site";

/** Pinning on one page: an ordinary rule for that page alone, changed and taken off where it stands. */
export function usePins() {
  const site = useSite();
  const refresh = useRefresh();
  const tell = useMessage();
  const tellError = useTellError();
  const [pinning, setPinning] = useState(false);
  const act = async (work: () => Promise<string>) => {
    setPinning(false);
    try {
      const said = await work();
      await refresh();
      tell(said);
    } catch (error) {
      tellError(error);
    }
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
  const unpin = (path: string, target: string) =>
    act(async () => {
      await api.DELETE("/api/sites/{site}/pins", {
        params: { path: { site: site.slug }, query: { path, target } },
      });
      return `Taken off ${path}. It is in the draft, not live yet.`;
    });
  return { pinning, setPinning, pin, unpin };
}

export type Pins = ReturnType<typeof usePins>;
