import Button from "@mui/material/Button";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { askAnew } from "../api/anew";
import { api, type Shapes } from "../api/client";
import { sessionQuery } from "../api/queries";
import { archivedQuery, sitesQuery } from "../api/siteQueries";
import { useTellError } from "../parts/messages";
import { useTitle } from "../parts/useTitle";
import { MakeSite } from "./MakeSite";
import "../signin/signin.css";
import "./sites.css";

type Row = Shapes["SiteRow"];

/** Every site: where it is served, putting one away and bringing it back, and making one. */
export default function SitesView() {
  const sites = useQuery(sitesQuery).data ?? [];
  const away = useQuery(archivedQuery).data ?? [];
  const runs = useQuery(sessionQuery).data?.runs ?? false;
  const first = sites.length + away.length === 0;
  useTitle("Sites");
  return (
    <main className="sign-in sites">
      <div>
        {runs && <MakeSite title={first ? "The first site" : "A new site"} />}
        {first && !runs && (
          <p>There is no site here at which you are anything. Ask its owner for an invitation.</p>
        )}
      </div>
      <div className="all-sites">
        {sites.length > 0 && <Listed name="Sites" rows={sites} away={false} />}
        {away.length > 0 && <Listed name="Put away" rows={away} away />}
      </div>
    </main>
  );
}

function Listed({ name, rows, away }: { name: string; rows: Row[]; away: boolean }) {
  return (
    <section aria-label={name}>
      <h2>{name}</h2>
      {away && <p className="mute">Neither listed nor served. Nothing of them is lost.</p>}
      <ul>
        {rows.map((row) => (
          <OneSite key={row.slug} row={row} away={away} />
        ))}
      </ul>
    </section>
  );
}

function OneSite({ row, away }: { row: Row; away: boolean }) {
  const client = useQueryClient();
  const tellError = useTellError();
  const params = { path: { site: row.slug } };
  const move = async () => {
    try {
      if (away) await api.DELETE("/api/sites/{site}/archived", { params });
      else await api.PUT("/api/sites/{site}/archived", { params });
      await askAnew(client, { queryKey: sitesQuery.queryKey });
    } catch (error) {
      tellError(error);
    }
  };
  return (
    <li>
      <Link to={`/${row.slug}/pages`}>{row.name}</Link>
      {row.published_origin ? (
        <a className="mono mute" href={row.published_origin}>
          {row.published_origin}
        </a>
      ) : (
        <span className="mute">
          {away ? "" : "served under the host of its address, once that is stated"}
        </span>
      )}
      <Button
        variant="text"
        size="small"
        aria-label={away ? `Bring ${row.name} back` : `Put ${row.name} away`}
        onClick={move}
      >
        {away ? "Bring it back" : "Put it away"}
      </Button>
    </li>
  );
}
