import { useQuery } from "@tanstack/react-query";
import { answer, api } from "../api/client";
import { rulesQuery } from "../api/ruleQueries";
import { useLens, useSite } from "../parts/site";
import { useAct } from "../parts/useAct";
import type { RuleTree } from "./ruleTree";

/** Change a saved rule, or where it stands, at once; what was done is told. */
export function useChangeRule() {
  const site = useSite();
  const rules = useQuery(rulesQuery(site.slug, useLens())).data;
  const act = useAct();
  return (rule: number, tree: RuleTree, position: number | null, said: string) =>
    act(async () => {
      const version = rules?.find((row) => row.id === rule)?.version ?? 0;
      const params = { path: { site: site.slug, number: rule }, header: { "If-Match": `"${version}"` } };
      await answer(
        position === null
          ? api.PUT("/api/sites/{site}/rules/{number}", { params, body: tree })
          : api.POST("/api/sites/{site}/rules/{number}/position", { params, body: { position } }),
      );
      return `${said}. In the draft, not live yet.`;
    });
}
