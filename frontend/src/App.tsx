import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense } from "react";
import { Navigate, Route, Routes, useParams } from "react-router";
import { Problem } from "./api/client";
import { sessionQuery, siteQuery, sitesQuery } from "./api/queries";
import { PagesView } from "./pages/PagesView";
import { Shell } from "./parts/Shell";
import { SiteContext } from "./parts/site";
import { PiecesView } from "./pieces/PiecesView";
import { PreviewView } from "./preview/PreviewView";
import { PublishView } from "./publish/PublishView";
import { RulesView } from "./rules/RulesView";
import { SiteView } from "./site/SiteView";

const SignIn = lazy(() => import("./signin/SignIn"));

/** Sign-in first; then the site that the address names, or the first there is. */
export function App() {
  const session = useQuery(sessionQuery);
  if (session.isPending) return null;
  if (session.isError) return <Trouble error={session.error} />;
  if (!session.data.username) {
    return (
      <Suspense>
        <SignIn demo={session.data.demo} />
      </Suspense>
    );
  }
  return (
    <Routes>
      <Route path="/" element={<FirstSite />} />
      <Route path="/:site/*" element={<OneSite />} />
    </Routes>
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
    <p>There is no site yet. Run ./navrel start.</p>
  );
}

function OneSite() {
  const slug = useParams().site ?? "";
  const site = useQuery(siteQuery(slug));
  if (site.isPending) return null;
  if (site.isError) return <Trouble error={site.error} />;
  return (
    <SiteContext value={site.data}>
      <Shell>
        <Routes>
          <Route path="pages" element={<PagesView />} />
          <Route path="rules/:rule?" element={<RulesView />} />
          <Route path="pieces/:piece?" element={<PiecesView />} />
          <Route path="preview" element={<PreviewView />} />
          <Route path="publish" element={<PublishView />} />
          <Route path="site" element={<SiteView />} />
          <Route path="*" element={<Navigate to={`/${slug}/pages`} replace />} />
        </Routes>
      </Shell>
    </SiteContext>
  );
}

function Trouble({ error }: { error: Error }) {
  const missing = error instanceof Problem && error.status === 404;
  return (
    <main className="column">
      <h1>{error.message}</h1>
      <p className="mute">{error instanceof Problem && error.detail}</p>
      {missing ? <a href="/">Go to the first site</a> : <a href={window.location.href}>Try again</a>}
    </main>
  );
}
