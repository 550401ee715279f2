import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { sessionQuery } from "../api/queries";
import { sitesQuery } from "../api/siteQueries";
import { Opening } from "./Opening";
import { useSite } from "./site";

/** The other sites, and the place where all of them are looked after; nothing where there is neither. */
export function Sites() {
  const site = useSite();
  const sites = useQuery(sitesQuery).data ?? [];
  const runs = useQuery(sessionQuery).data?.runs ?? false;
  const others = sites.filter((one) => one.slug !== site.slug);
  if (!others.length && !runs) return null;
  return (
    <Opening text={<Angle />} about="Sites" aria-label="Sites" className="sites-button" color="inherit">
      {(close) => (
        <nav className="offers" aria-label="Sites">
          {others.map((one) => (
            <Link key={one.slug} to={`/${one.slug}/pages`} onClick={close}>
              {one.name}
            </Link>
          ))}
          <Link to="/_sites" onClick={close}>
            {runs ? "All sites, and a new one …" : "All sites …"}
          </Link>
        </nav>
      )}
    </Opening>
  );
}

/** That a list opens below. */
const Angle = () => (
  <svg width="12" height="8" viewBox="0 0 12 8" aria-hidden="true">
    <path d="M1 1.5 6 6.5 11 1.5" fill="none" stroke="currentColor" strokeWidth="1.6" />
  </svg>
);
