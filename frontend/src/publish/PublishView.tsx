import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { ApiError, type Shapes } from "../api/client";
import { chosenImpactQuery, impactQuery } from "../api/queries";
import { EditLog } from "../edits/EditLog";
import { GuardsHere } from "../guards/GuardsHere";
import { addressOf, useDraftList } from "../parts/drafts";
import { useAddress, useLinkTo, useSite } from "../parts/site";
import { count } from "../parts/words";
import { Compared } from "./Compared";
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
  const { get } = useAddress();
  return (
    <>
      <div className="column">
        {get("compare") ? <Compared told={get("compare")} /> : <DraftAgainstLive />}
      </div>
      <aside className="side wide-side" aria-label="Guards, remarks, edits and revisions">
        <GuardsHere />
        <Remarks />
        <Plans />
        <EditLog />
        <Revisions />
      </aside>
    </>
  );
}

function DraftAgainstLive() {
  const site = useSite();
  const impact = useQuery(impactQuery(site));
  return (
    <>
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
        <div aria-busy={impact.isPlaceholderData}>
          <ToPublish key={impact.data.version} all={impact.data} current={!impact.isPlaceholderData} />
        </div>
      )}
    </>
  );
}

/** What differs, all of it or what was chosen, and publishing that. */
function ToPublish({ all, current }: { all: Shapes["ImpactInfo"]; current: boolean }) {
  const site = useSite();
  const [waiting, setWaiting] = useState<string[]>([]);
  const parts = all.changes.flatMap(({ part }) => (part && !waiting.includes(part) ? [part] : []));
  const asked = useQuery({ ...chosenImpactQuery(site, parts), enabled: waiting.length > 0 });
  const chosen = waiting.length > 0;
  const impact = chosen ? asked.data : all;
  return (
    <>
      <Differences changes={all.changes} waiting={waiting} onWaiting={setWaiting} />
      {chosen && asked.isPending && <p className="mute">Working out what the chosen ones would change …</p>}
      {chosen && asked.isError && (
        <p className="note-box bad" role="alert">
          {asked.error.message}. {asked.error instanceof ApiError && asked.error.detail}
        </p>
      )}
      {impact && impact.changes.length > 0 && <Impact impact={impact} published={site.live !== null} />}
      <Looked some={chosen} />
      {impact && (
        <PublishForm
          impact={impact}
          current={current}
          parts={chosen ? parts : null}
          of={all.changes.length}
        />
      )}
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
