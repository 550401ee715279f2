import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api } from "../api/client";
import { intakesQuery } from "../api/intakeQueries";
import { useLinkTo, useSite } from "../parts/site";
import { useAct } from "../parts/useAct";
import { count, figure, when } from "../parts/words";
import { FirstSteps } from "./FirstSteps";
import { IntakeReport } from "./IntakeReport";
import { Menus } from "./Menus";
import { Settings } from "./Settings";
import { SetUp } from "./SetUp";
import { TakeIn } from "./TakeIn";

/** The site itself: what it holds, and taking its pages in. */
export function SiteView() {
  const site = useSite();
  const linkTo = useLinkTo();
  return (
    <>
      <div className="column">
        {!site.live && <FirstSteps />}
        <TakeIn />
        <Earlier />
        <SetUp />
        <Menus />
        <Settings />
      </div>
      <aside className="side" aria-label="What the site holds">
        <h2>{site.name}</h2>
        {site.published_origin && (
          <Fact name="served at">
            <a href={site.published_origin}>{site.published_origin}</a>
          </Fact>
        )}
        <Fact name="pages">
          {figure(site.pages)}
          {site.gone > 0 && `, and ${count(site.gone, "page")} gone from the source`}
        </Fact>
        <ByHand />
        <p style={{ margin: "12px 0" }}>
          <Link to={linkTo("site/bindings")}>Where slots are in pages</Link>
        </p>
        <p style={{ margin: "12px 0" }}>
          <Link to={linkTo("site/recipe")}>How facts of pages are read</Link>
        </p>
        <p style={{ margin: "12px 0" }}>
          <Link to={linkTo("site/dress")}>What the site wears</Link>
        </p>
        <p style={{ margin: "12px 0" }}>
          <Link to={linkTo("site/people")}>People, and what each may do</Link>
        </p>
        <p style={{ margin: "12px 0" }}>
          <Link to={linkTo("site/told")}>Servers that are told of publications</Link>
        </p>
        <p style={{ margin: "12px 0" }}>
          <Link to={linkTo("site/log")}>The log of everything that was done</Link>
        </p>
        <h3>By kind</h3>
        {site.kinds.map((kind) => (
          <Fact key={kind.name} name={kind.name}>
            {count(kind.pages, "page")}
          </Fact>
        ))}
        <h3>By type</h3>
        {site.types.map((type) => (
          <Fact key={type.name} name={type.name}>
            {count(type.pages, "page")}
          </Fact>
        ))}
        {site.types.length === 0 && <p className="mute">No page states a type.</p>}
      </aside>
    </>
  );
}

/** Whether the facts of pages may be corrected by hand. */
function ByHand() {
  const site = useSite();
  const act = useAct();
  const allow = (allowed: boolean) =>
    act(async () => {
      await api.PUT("/api/sites/{site}/by-hand", {
        params: { path: { site: site.slug } },
        body: { allowed },
      });
      return allowed
        ? "The facts of pages may be corrected by hand."
        : "The facts of pages are corrected no more; what was corrected stays.";
    });
  return (
    <FormControlLabel
      label="Facts of pages may be corrected by hand"
      control={<Switch checked={site.by_hand} onChange={(event) => allow(event.target.checked)} />}
    />
  );
}

function Fact({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <div className="fact-row">
      <span className="mute">{name}</span>
      <span>{children}</span>
    </div>
  );
}

/** What was taken in before. */
function Earlier() {
  const site = useSite();
  const intakes = useQuery(intakesQuery(site.slug));
  if (!intakes.data?.length) return null;
  return (
    <section aria-label="Taken in before" style={{ maxWidth: 720, marginTop: 24 }}>
      <h2>Taken in before</h2>
      {intakes.data.map((intake) => (
        <details key={intake.id} style={{ borderTop: "1px solid var(--hair)", padding: "6px 0" }}>
          <summary>
            {when(intake.finished)} <span className="mute">by {intake.by ?? "the command line"}</span>,{" "}
            {count(intake.report.pages, "page")}
          </summary>
          <IntakeReport report={intake.report} />
        </details>
      ))}
    </section>
  );
}
