import { useQuery } from "@tanstack/react-query";
import { guardsQuery } from "../api/queries";
import { useRested, useSite } from "../parts/site";
import { useAct } from "../parts/useAct";
import { declareGuards, type GuardTree, readGuards, sendGuard } from "./guardTree";

/** How the guards stood when they were asked last, some time after an edit; `current`: nothing was edited since. */
export function useGuardStates() {
  const site = useSite();
  const rested = useRested();
  const guards = useQuery({ ...guardsQuery(site.slug), enabled: rested });
  return { guards: guards.data?.items, current: rested && !guards.isFetching };
}

/** Guards made and removed at once, each as an edit. */
export function useGuardEdits() {
  const site = useSite();
  const act = useAct();
  return {
    make: (guard: GuardTree) =>
      act(async () => {
        await sendGuard(site.slug, null, guard, 0);
        return `Guarded: ${guard.name}. In the draft, not live yet.`;
      }),
    remove: (name: string) =>
      act(async () => {
        const { trees, version } = await readGuards(site.slug);
        await declareGuards(
          site.slug,
          trees.filter((one) => one.name !== name),
          version,
        );
        return `Removed the guard ${name}. In the draft, not live yet.`;
      }),
  };
}
