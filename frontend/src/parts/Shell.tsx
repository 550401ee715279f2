import { useQuery } from "@tanstack/react-query";
import { type ReactNode, Suspense, useEffect } from "react";
import { Link, useLocation } from "react-router";
import { Account } from "../account/Account";
import { findingsQuery } from "../api/queries";
import { UndoRedo } from "../edits/UndoRedo";
import { BrokenGuards } from "../guards/BrokenGuards";
import { News } from "../news/News";
import { Palette } from "../palette/Palette";
import { Boundary } from "./Boundary";
import { useDraftList, viewOf } from "./drafts";
import { Figure } from "./icons";
import { Lens } from "./Lens";
import { rememberAddress, rememberedAddress } from "./memory";
import { useLacking } from "./rights";
import { Sites } from "./Sites";
import { useLens, useLinkTo, useRested, useSite } from "./site";
import { useKeepUp } from "./useKeepUp";
import { useTitleOfView } from "./useTitle";
import { capital, count } from "./words";

/** The views that are about one page at a time. */
const PAGE_VIEWS = ["pages", "preview"];
const VIEWS = ["pages", "rules", "pieces", "preview", "checks", "publish"];
/** Views that are reached from another one, and belong to it. */
const PART_OF: Record<string, string> = { starters: "pieces", "take-in": "pieces", places: "pieces" };

/** The frame that every view stands in: the rail, and the bar with the site's state and the lens. */
export function Shell({ children }: { children: ReactNode }) {
  const site = useSite();
  const { pathname, search } = useLocation();
  const view = pathname.split("/")[2];
  useTitleOfView();
  useKeepUp();
  return (
    <div className="shell">
      <Rail edits={site.edits} />
      <header className="top">
        <h1>{site.name}</h1>
        <Sites />
        <UndoRedo />
        <Standing />
        <span className="grow" />
        <Lens />
        <Palette />
        <News />
        <Account />
      </header>
      <div className="told">
        <OnlyLooking />
        <BrokenGuards />
      </div>
      <main className="main" data-address={`${pathname}${search}`}>
        {/* Outside of what is new with each view, so that the one being left stands until the next is there. */}
        <Suspense>
          <Boundary key={view}>{children}</Boundary>
        </Suspense>
      </main>
    </div>
  );
}

/** What is not saved, what is saved and not live, in words; a way to both. */
function Standing() {
  const site = useSite();
  const linkTo = useLinkTo();
  const unsaved = useDraftList().length;
  const saved = site.live
    ? site.edits
      ? `${site.edits} saved and not live`
      : "draft and live are the same"
    : "draft, nothing live yet";
  return (
    <Link className="standing clip" to={linkTo("publish")}>
      {unsaved > 0 && <b className="unsaved">{unsaved} unsaved, </b>}
      {saved}
      {site.unreadable.length > 0 && <b className="bad"> · revision {site.unreadable[0]} cannot be read</b>}
    </Link>
  );
}

/** The addresses of the views, each as it was left; the page at hand goes along. */
function useWays(): (view: string) => string {
  const site = useSite();
  const lens = useLens();
  const location = useLocation();
  const here = location.pathname.split("/").slice(2).join("/");
  const [view = ""] = here.split("/");
  const search = new URLSearchParams(location.search);
  const path = PAGE_VIEWS.includes(view) ? search.get("path") : null;
  useEffect(() => {
    if (view) rememberAddress(site.slug, view, `${here}${location.search}`);
    if (path) rememberAddress(site.slug, "page", path);
  }, [site.slug, view, here, location.search, path]);
  return (wanted) => {
    if (wanted === view) return `${location.pathname}${location.search}`;
    const [way = wanted, query = ""] = (rememberedAddress(site.slug, wanted) || wanted).split("?");
    const params = new URLSearchParams(query);
    const page = path || rememberedAddress(site.slug, "page");
    if (PAGE_VIEWS.includes(wanted) && page && params.get("path") !== page) {
      params.set("path", page);
      params.delete("target");
    }
    for (const [key, value] of Object.entries(lens)) {
      if (value) params.set(key, value);
      else params.delete(key);
    }
    const text = params.toString();
    return `/${site.slug}/${way}${text ? `?${text}` : ""}`;
  };
}

function Rail({ edits }: { edits: number }) {
  const way = useWays();
  const here = useLocation().pathname.split("/")[2] ?? "";
  const current = (view: string) => ((PART_OF[here] ?? here) === view ? "page" : undefined);
  const amiss = useAmiss();
  const unsaved = useDraftList();
  return (
    <nav className="rail" aria-label="Views">
      <b>navrel</b>
      {VIEWS.map((view) => (
        <Link key={view} to={way(view)} aria-current={current(view)}>
          <Figure name={view} />
          {capital(view)}
          {unsaved.some((draft) => viewOf(draft) === view) && (
            <i className="dot" role="img" aria-label="with edits that are not saved" />
          )}
          {view === "checks" && amiss > 0 && (
            <>
              {" "}
              <em aria-label={count(amiss, "finding")}>{amiss}</em>
            </>
          )}
          {view === "publish" && edits > 0 && (
            <>
              {" "}
              <em aria-label={count(edits, "edit")}>{edits}</em>
            </>
          )}
        </Link>
      ))}
      <Link className="last" to={way("site")} aria-current={current("site")}>
        <Figure name="site" />
        Site
      </Link>
    </nav>
  );
}

/** How many findings are more than hints and not let be; 0 while that is not known. */
function useAmiss(): number {
  const findings = useQuery({ ...findingsQuery(useSite().slug), enabled: useRested() }).data;
  return findings?.filter((one) => one.severity !== "hint" && one.aside === null).length ?? 0;
}

/** That whoever is signed in may look at everything and change nothing. */
function OnlyLooking() {
  const lacking = useLacking("editor");
  if (!lacking) return null;
  return (
    <p className="only-looking" role="status">
      You are viewer here: look at everything, try things on, mark pages on walks. Nothing you do changes the
      draft.
    </p>
  );
}
