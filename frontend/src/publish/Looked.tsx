import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { lookedQuery } from "../api/walkQueries";
import { useLinkTo, useSite } from "../parts/site";
import { count } from "../parts/words";

/**
 * How many of the pages that publishing changes somebody has looked at, and what was found amiss. Not where some changes
 * wait: what was looked at had them too.
 */
export function Looked({ some }: { some: boolean }) {
  const linkTo = useLinkTo();
  const looked = useQuery(lookedQuery(useSite().slug)).data;
  if (!looked) return <section aria-label="Looked at" aria-busy="true" />;
  if (looked.pages === 0) return null;
  if (some) {
    return (
      <section aria-label="Looked at" className="looked">
        <p className="mute">
          Marks made on walks are of the draft with all its changes; of some of them they tell nothing.
        </p>
      </section>
    );
  }
  const seen = looked.fine + looked.amiss;
  return (
    <section aria-label="Looked at" className="looked">
      <p>
        <b>
          {seen} of {count(looked.pages, "changed page")} looked at
        </b>
        {looked.amiss > 0 && <b className="bad">, {looked.amiss} not fine</b>}
        {looked.again > 0 && <span className="mute">, {looked.again} changed since</span>}.{" "}
        <Link to={linkTo("preview", { walk: "changed", path: looked.noted[0]?.path ?? "" })}>
          Walk through them
        </Link>
      </p>
      <ul className="plain-list">
        {looked.noted.map((page) => (
          <li key={page.path}>
            <Link to={linkTo("preview", { walk: "changed", path: page.path })}>{page.title}</Link>
            <span className={page.mark?.fine ? "mute" : "bad"}>
              {" "}
              {page.mark?.fine ? "fine" : "not fine"}
              {page.mark?.note && `: ${page.mark.note}`}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
