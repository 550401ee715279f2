import { useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, api } from "../api/client";
import { guardsQuery } from "../api/queries";
import { useRested, useSite } from "../parts/site";
import { useAct } from "../parts/useAct";
import { declareGuards, type GuardTree, sendGuard } from "./guardTree";

/** How the guards stood when they were asked last, some time after an edit; `current`: nothing was edited since. */
export function useGuardStates() {
  const site = useSite();
  const rested = useRested();
  const guards = useQuery({ ...guardsQuery(site.slug), enabled: rested });
  return { guards: guards.data?.items, current: rested && !guards.isFetching };
}

/** Guards made, switched and removed at once, each as an edit. */
export function useGuardEdits() {
  const site = useSite();
  const act = useAct();
  const client = useQueryClient();
  const change = (guards: (now: GuardTree[]) => GuardTree[], said: string) =>
    act(async () => {
      const now = await answer(
        api.GET("/api/sites/{site}/guards", { params: { path: { site: site.slug } } }),
      );
      const made = await declareGuards(site.slug, guards(now.items.map((one) => one.guard)), now.version);
      client.setQueryData(guardsQuery(site.slug).queryKey, made);
      return `${said}. In the draft, not live yet.`;
    });
  return {
    make: (guard: GuardTree) =>
      act(async () => {
        await sendGuard(site.slug, null, guard, 0);
        return `Guarded: ${guard.name}. In the draft, not live yet.`;
      }),
    switchOver: (name: string, on: boolean) =>
      change(
        (now) => now.map((one) => (one.name === name ? { ...one, on } : one)),
        `Switched ${on ? "on" : "off"} the guard ${name}`,
      ),
    remove: (name: string) =>
      change((now) => now.filter((one) => one.name !== name), `Removed the guard ${name}`),
  };
}
