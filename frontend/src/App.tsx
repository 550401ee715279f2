import { useQuery } from "@tanstack/react-query";
import { type ComponentType, lazy, Suspense, useState } from "react";
import { Link, matchPath, Navigate, Route, Routes, useLocation, useParams } from "react-router";
import { ApiError } from "./api/client";
import { sessionQuery, siteQuery } from "./api/queries";
import { sitesQuery } from "./api/siteQueries";
import { Shell } from "./parts/Shell";
import { SiteContext } from "./parts/site";

const SitesView = lazy(() => import("./sites/SitesView"));
const SignIn = lazy(() => import("./signin/SignIn"));
const First = lazy(() => import("./signin/First"));
const Join = lazy(() => import("./signin/Join"));
const ShownView = lazy(() => import("./shown/ShownView"));

/**
 * A view that is fetched when it is first gone to, so that none waits for what only others need. One that was fetched
 * stands at once: behind a lazy component it would wait for 300 ms, as React holds back what follows on a fallback.
 */
function view<Name extends string>(load: () => Promise<Record<Name, ComponentType>>, name: Name) {
  let found: ComponentType | undefined;
  const fetch = async () => {
    found ??= (await load())[name];
    return { default: found };
  };
  const Fetched = lazy(fetch);
  function View() {
    const [Shown] = useState(() => found ?? Fetched);
    return <Shown />;
  }
  return { View, fetch };
}

const VIEWS = Object.entries({
  pages: view(() => import("./pages/PagesView"), "PagesView"),
  "rules/:rule?": view(() => import("./rules/RulesView"), "RulesView"),
  "pieces/:piece?": view(() => import("./pieces/PiecesView"), "PiecesView"),
  starters: view(() => import("./pieces/Starters"), "Starters"),
  "take-in": view(() => import("./pieces/TakeIn"), "TakeIn"),
  places: view(() => import("./places/PlacesView"), "PlacesView"),
  preview: view(() => import("./preview/PreviewView"), "PreviewView"),
  checks: view(() => import("./checks/ChecksView"), "ChecksView"),
  "checks/guards/:guard?": view(() => import("./guards/GuardsView"), "GuardsView"),
  publish: view(() => import("./publish/PublishView"), "PublishView"),
  "site/bindings": view(() => import("./bindings/BindingsView"), "BindingsView"),
  "site/recipe": view(() => import("./recipe/RecipeView"), "RecipeView"),
  "site/dress": view(() => import("./dress/DressView"), "DressView"),
  "site/log": view(() => import("./site/LogView"), "LogView"),
  "site/people": view(() => import("./site/PeopleView"), "PeopleView"),
  "site/told": view(() => import("./site/ToldView"), "ToldView"),
  site: view(() => import("./site/SiteView"), "SiteView"),
});

/** Fetch the view that the address asks for while it is asked who is there, and what the site is. */
export function fetchView(pathname: string) {
  const asked = pathname === "/" ? "/_/pages" : pathname;
  VIEWS.find(([path]) => matchPath(`/:site/${path}`, asked))?.[1].fetch();
}

/** What a preview link or an invitation leads to, for anybody; else the application. */
export function App() {
  return (
    <Suspense>
      <Routes>
        <Route path="/_preview/:token" element={<ShownView />} />
        <Route path="/_first/:token" element={<First />} />
        <Route path="/_join/:token" element={<Join />} />
        <Route path="*" element={<Application />} />
      </Routes>
    </Suspense>
  );
}

/** Sign-in first; then the site that the address names, or the first there is. */
function Application() {
  const session = useQuery(sessionQuery);
  if (session.isPending) return null;
  if (session.isError) return <Trouble error={session.error} />;
  if (!session.data.username) return <SignIn demo={session.data.demo} />;
  return (
    <Routes>
      <Route path="/" element={<FirstSite />} />
      <Route path="/_sites" element={<SitesView />} />
      <Route path="/:site/*" element={<OneSite />} />
    </Routes>
  );
}

/** The frame that every view stands in, while what it is about is on its way. */
function Frame() {
  return (
    <div className="shell" aria-busy="true">
      <div className="rail">
        <b>navrel</b>
      </div>
      <header className="top" />
      <main className="main" />
    </div>
  );
}

function FirstSite() {
  const sites = useQuery(sitesQuery);
  const first = sites.data?.[0];
  if (sites.isError) return <Trouble error={sites.error} />;
  if (sites.isPending) return null;
  return first ? <Navigate to={`/${first.slug}/pages`} replace /> : <SitesView />;
}

function OneSite() {
  const slug = useParams().site ?? "";
  const site = useQuery(siteQuery(slug));
  if (site.isPending) return <Frame />;
  if (site.isError) return <Trouble error={site.error} />;
  return (
    <SiteContext value={site.data}>
      <Shell>
        <Routes>
          {VIEWS.map(([path, { View }]) => (
            <Route key={path} path={path} element={<View />} />
          ))}
          <Route index element={<Navigate to="pages" replace />} />
          <Route path="*" element={<Nowhere site={slug} />} />
        </Routes>
      </Shell>
    </SiteContext>
  );
}

/** An address that leads to nothing says so; it may have been typed wrongly, or be an old one. */
function Nowhere({ site }: { site: string }) {
  const { pathname } = useLocation();
  return (
    <div className="column">
      <h2>There is nothing at this address</h2>
      <p className="mono">{pathname}</p>
      <Link to={`/${site}/pages`}>Go to the pages</Link>
    </div>
  );
}

function Trouble({ error }: { error: Error }) {
  const missing = error instanceof ApiError && error.status === 404;
  return (
    <main className="column">
      <h1>{error.message}</h1>
      <p className="mute">{error instanceof ApiError && error.detail}</p>
      {missing ? <a href="/">Go to the first site</a> : <a href={window.location.href}>Try again</a>}
    </main>
  );
}
