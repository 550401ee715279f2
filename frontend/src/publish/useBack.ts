import { useCallback } from "react";
import { api } from "../api/client";
import { useMessage, useTellError } from "../parts/messages";
import { useRefresh, useSite } from "../parts/site";

/** Bring the draft to another state: what is live, one part of it, or an earlier revision. Each is one edit. */
export function useBack() {
  const site = useSite();
  const refresh = useRefresh();
  const tell = useMessage();
  const tellError = useTellError();
  const act = useCallback(
    async (work: () => Promise<unknown>, said: string) => {
      try {
        await work();
        tell(`${said}. Undo takes that back.`);
      } catch (error) {
        tellError(error);
      }
      await refresh();
    },
    [refresh, tell, tellError],
  );
  const path = { site: site.slug };
  return {
    toLive: (part: string, said: string) =>
      act(() => api.POST("/api/sites/{site}/back-to-live", { params: { path }, body: { part } }), said),
    toRevision: (number: number) =>
      act(
        () =>
          api.POST("/api/sites/{site}/revisions/{number}/bring-back", {
            params: { path: { ...path, number } },
          }),
        `Revision ${number} is the draft again`,
      ),
  };
}
