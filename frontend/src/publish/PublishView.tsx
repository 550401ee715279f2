import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { impactQuery } from "../api/queries";
import { EditLog } from "../edits/EditLog";
import { GuardsHere } from "../guards/GuardsHere";
import { addressOf, useDraftList } from "../parts/drafts";
import { useLinkTo, useSite } from "../parts/site";
import { count } from "../parts/words";
import { Differences } from "./Differences";
import { Impact } from "./Impact";
import { Looked } from "./Looked";
import { Plans } from "./Plans";
import { PublishForm } from "./PublishForm";
import { Remarks } from "./Remarks";
import { Revisions } from "./Revisions";
import "./publish.css";

/** What changed since live, in words and on pages; publishing it; and everything edited and published before. */
export function PublishView() {
  const site = useSite();
  const impact = useQuery(impactQuery(site.slug));
  return (
    <>
      <div className="column">
        <h2>Draft against live</h2>
        {site.unreadable.length > 0 && (
          <p className="note-box bad" role="alert">
            Revision {site.unreadable.join(", ")} cannot be read, so{" "}
            {site.live ? `the published site serves revision ${site.live.number}` : "nothing is served"}.
            Publish the draft again to mend it.
          </p>
        )}
        <Unsaved />
        {impact.isPending && <p className="mute">Working out what publishing would change, for everyone …</p>}
        {impact.isError && <p className="note-box bad">{impact.error.message}</p>}
        {impact.data && (
          <>
            <Differences changes={impact.data.changes} />
            {impact.data.changes.length > 0 && <Impact impact={impact.data} published={site.live !== null} />}
            <Looked />
            <PublishForm key={impact.data.version} impact={impact.data} />
          </>
        )}
      </div>
      <aside className="side" style={{ width: 380 }} aria-label="Guards, remarks, edits and revisions">
        <GuardsHere />
        <Remarks />
        <Plans />
        <EditLog />
        <Revisions />
      </aside>
    </>
  );
}

/** Edits that stand in this browser only: saving comes before publishing. */
function Unsaved() {
  const drafts = useDraftList();
  const linkTo = useLinkTo();
  if (drafts.length === 0) return null;
  return (
    <section className="note-box" aria-label="Not saved">
      <b>{count(drafts.length, "edit")} not saved, so not published:</b>
      <ul className="plain-list">
        {drafts.map((draft) => (
          <li key={`${draft.kind} ${draft.id}`}>
            {draft.kind} <Link to={linkTo(...addressOf(draft))}>{draft.name || "without a name"}</Link>
          </li>
        ))}
      </ul>
    </section>
  );
}
