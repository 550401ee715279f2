import { useQuery } from "@tanstack/react-query";
import { type ComponentType, lazy, Suspense } from "react";
import { Link, Navigate, Route, Routes, useLocation, useParams } from "react-router";
import { ApiError } from "./api/client";
import { sessionQuery, siteQuery, sitesQuery } from "./api/queries";
import { Shell } from "./parts/Shell";
import { SiteContext } from "./parts/site";

const SignIn = lazy(() => import("./signin/SignIn"));
const Join = lazy(() => import("./signin/Join"));
const ShownView = lazy(() => import("./shown/ShownView"));

/** A view that is fetched when it is first gone to, so that none waits for what only others need. */
function view<Name extends string>(load: () => Promise<Record<Name, ComponentType>>, name: Name) {
  return lazy(async () => ({ default: (await load())[name] }));
}

const ChecksView = view(() => import("./checks/ChecksView"), "ChecksView");
const DressView = view(() => import("./dress/DressView"), "DressView");
const GuardsView = view(() => import("./guards/GuardsView"), "GuardsView");
const LogView = view(() => import("./site/LogView"), "LogView");
const PagesView = view(() => import("./pages/PagesView"), "PagesView");
const PeopleView = view(() => import("./site/PeopleView"), "PeopleView");
const PiecesView = view(() => import("./pieces/PiecesView"), "PiecesView");
const PlacesView = view(() => import("./places/PlacesView"), "PlacesView");
const PreviewView = view(() => import("./preview/PreviewView"), "PreviewView");
const PublishView = view(() => import("./publish/PublishView"), "PublishView");
const RulesView = view(() => import("./rules/RulesView"), "RulesView");
const SiteView = view(() => import("./site/SiteView"), "SiteView");
const Starters = view(() => import("./pieces/Starters"), "Starters");
const TakeIn = view(() => import("./pieces/TakeIn"), "TakeIn");

/** What a preview link or an invitation leads to, for anybody; else the application. */
export function App() {
  return (
    <Suspense>
      <Routes>
        <Route path="/_preview/:token" element={<ShownView />} />
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
  return first ? (
    <Navigate to={`/${first.slug}/pages`} replace />
  ) : (
    <p>There is no site here at which you are anything. Ask its owner for an invitation.</p>
  );
}

function OneSite() {
  const slug = useParams().site ?? "";
  const site = useQuery(siteQuery(slug));
  if (site.isPending) return <Frame />;
  if (site.isError) return <Trouble error={site.error} />;
  return (
    <SiteContext value={site.data}>
      <Shell>
        <Suspense>
          <Routes>
            <Route path="pages" element={<PagesView />} />
            <Route path="rules/:rule?" element={<RulesView />} />
            <Route path="pieces/:piece?" element={<PiecesView />} />
            <Route path="starters" element={<Starters />} />
            <Route path="take-in" element={<TakeIn />} />
            <Route path="places" element={<PlacesView />} />
            <Route path="preview" element={<PreviewView />} />
            <Route path="checks" element={<ChecksView />} />
            <Route path="checks/guards/:guard?" element={<GuardsView />} />
            <Route path="publish" element={<PublishView />} />
            <Route path="site/dress" element={<DressView />} />
            <Route path="site/log" element={<LogView />} />
            <Route path="site/people" element={<PeopleView />} />
            <Route path="site" element={<SiteView />} />
            <Route index element={<Navigate to="pages" replace />} />
            <Route path="*" element={<Nowhere site={slug} />} />
          </Routes>
        </Suspense>
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
