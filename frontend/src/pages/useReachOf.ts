import { useNavigate } from "react-router";
import { answer, api, type Shapes } from "../api/client";
import { useDraftPrefix, writeDraft } from "../parts/drafts";
import { useMessage, useTellError } from "../parts/messages";
import { useLinkTo, useRefresh, useSite } from "../parts/site";
import { count } from "../parts/words";

type Row = Shapes["RuleRow"];

/** Pages brought into the reach of a rule that is there, or left out of it. */
export function useReachOf() {
  const site = useSite();
  const refresh = useRefresh();
  const tell = useMessage();
  const tellError = useTellError();
  const prefix = useDraftPrefix();
  const navigate = useNavigate();
  const linkTo = useLinkTo();
  const change = async (row: Row, paths: string[], pages: number, what: "add" | "leave-out") => {
    try {
      await answer(
        api.POST("/api/sites/{site}/rules/{number}/pages", {
          params: {
            path: { site: site.slug, number: row.id },
            header: { "If-Match": `"${row.version}"` },
          },
          body: { paths, do: what },
        }),
      );
      await refresh();
      const said = what === "add" ? `${row.rule.name} reaches ${count(pages, "more page")}` : "";
      tell(`${said || `Left ${count(pages, "page")} out of ${row.rule.name}`}. In the draft, not live yet.`);
    } catch (error) {
      tellError(error);
    }
  };
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
    add: (row: Row, paths: string[], pages: number) => change(row, paths, pages, "add"),
    leaveOut: (row: Row, paths: string[], pages: number) => change(row, paths, pages, "leave-out"),
    widen,
  };
}
