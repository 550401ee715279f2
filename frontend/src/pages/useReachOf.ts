import { useNavigate } from "react-router";
import { answer, api, type Shapes } from "../api/client";
import { useDraftPrefix, writeDraft } from "../parts/drafts";
import { useLinkTo, useSite } from "../parts/site";
import { useAct } from "../parts/useAct";
import { count } from "../parts/words";

type Row = Shapes["RuleRow"];

/** Pages brought into the reach of a rule that is there, or left out of it. */
export function useReachOf() {
  const site = useSite();
  const act = useAct();
  const prefix = useDraftPrefix();
  const navigate = useNavigate();
  const linkTo = useLinkTo();
  const change = (row: Row, paths: string[], what: "add" | "leave-out", said: string) =>
    act(async () => {
      const header = { "If-Match": `"${row.version}"` };
      const params = { path: { site: site.slug, number: row.id }, header };
      await answer(api.POST("/api/sites/{site}/rules/{number}/pages", { params, body: { paths, do: what } }));
      return `${said}. In the draft, not live yet.`;
    });
  /** Open a rule with one more way in, to be looked at and saved there. */
  const widen = (row: Row, include: string) => {
    const condition = row.rule.condition ?? {};
    const tree = {
      ...row.rule,
      condition: { ...condition, include: [condition.include, include].filter(Boolean).join(" | ") },
    };
    writeDraft(`${prefix}rule/${row.id}`, { tree, name: row.rule.name, version: row.version });
    navigate(linkTo(`rules/${row.id}`));
  };
  return {
    add: (row: Row, paths: string[], pages: number) =>
      change(row, paths, "add", `${row.rule.name} reaches ${count(pages, "more page")}`),
    leaveOut: (row: Row, paths: string[], pages: number) =>
      change(row, paths, "leave-out", `Left ${count(pages, "page")} out of ${row.rule.name}`),
    widen,
  };
}
