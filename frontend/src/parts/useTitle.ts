import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { useMatch } from "react-router";
import { rulesQuery } from "../api/ruleQueries";
import { isNew } from "./newDraft";
import { useAddress, useLens, usePieces, useSite } from "./site";
import { capital } from "./words";

/** What the window is called for views that are not called as their address is. */
const CALLED: Record<string, string> = {
  "take-in": "Take in pieces",
  places: "All places",
  "checks/guards": "Guards",
  "site/bindings": "Where slots are in pages",
  "site/recipe": "How facts are read",
  "site/dress": "What the site wears",
  "site/told": "Servers that are told",
};

/** Call the window what it shows, so that tabs, the way back and whoever does not see it can tell it (WCAG 2.4.2). */
export function useTitle(title: string) {
  useEffect(() => {
    document.title = `${title} · Navrel`;
  }, [title]);
}

/** Call the window after the view of a site, and the thing that is at hand there. */
export function useTitleOfView() {
  const site = useSite();
  const lens = useLens();
  const { get } = useAddress();
  const { view = "", id = "", name = "" } = useMatch("/:site/:view?/:id?/:name?")?.params ?? {};
  const { bySlug } = usePieces();
  const rules = useQuery({ ...rulesQuery(site.slug, lens), enabled: view === "rules" && id !== "" }).data;
  const things: Record<string, string | undefined> = {
    rules: isNew(id) ? "New rule" : rules?.find((row) => String(row.id) === id)?.rule.name,
    pieces: bySlug.get(id)?.name,
    checks: isNew(name) ? "New guard" : name,
    pages: get("path"),
    preview: get("path"),
  };
  const called = CALLED[`${view}/${id}`] ?? CALLED[view] ?? capital(view === "site" && id ? id : view);
  useTitle([things[view], called, site.name].filter(Boolean).join(" · "));
}
