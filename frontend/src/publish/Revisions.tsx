import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import type { Shapes } from "../api/client";
import { revisionsQuery } from "../api/queries";
import { useAddress, useSite } from "../parts/site";
import { count, when } from "../parts/words";
import { useBack } from "./useBack";

/** Everything published, newest first; each can be brought back as the draft. */
export function Revisions() {
  const site = useSite();
  const revisions = useQuery(revisionsQuery(site.slug));
  const back = useBack();
  const { set } = useAddress();
  return (
    <section aria-label="Revisions">
      <h2>Revisions</h2>
      {revisions.data?.length === 0 && <p className="mute">Nothing has been published yet.</p>}
      <ol className="list">
        {revisions.data?.map((revision) => (
          <li key={revision.number}>
            <div className="row">
              <b>{revision.number}</b>
              <span>{when(revision.published)}</span>
              {revision.live && <span className="tag win">live</span>}
              <span className="grow" />
              <span className="mute">{revision.by ?? "set-up"}</span>
            </div>
            {revision.note && <div>{revision.note}</div>}
            {revision.overruled && (
              <div className="warn">
                In spite of {revision.overruled.guards.join(", ")}: {revision.overruled.reason}
              </div>
            )}
            <div className="row">
              <span className="mute grow">
                {summary(revision.changes)}
                {revision.chosen && ", some of what the draft had"}
              </span>
              <Button
                variant="text"
                component="a"
                href={`/api/sites/${site.slug}/revisions/${revision.number}/files.zip`}
                download
                aria-label={`Files of revision ${revision.number}, as a ZIP archive`}
                title="All its files for a static host, as a ZIP archive"
              >
                Files
              </Button>
              {site.live && !revision.live && (
                <Button
                  variant="text"
                  aria-label={`Compare revision ${revision.number} with what is live`}
                  onClick={() =>
                    set({ compare: `${site.live?.number}-${revision.number}` }, { replace: false })
                  }
                >
                  Compare
                </Button>
              )}
              {!revision.live && (
                <Button
                  variant="text"
                  aria-label={`Bring revision ${revision.number} back as the draft`}
                  onClick={() => back.toRevision(revision.number)}
                >
                  Bring back
                </Button>
              )}
            </div>
          </li>
        ))}
      </ol>
    </section>
  );
}

/** "3 rules, 2 pieces, 132 pages". */
function summary(changes: Shapes["ChangeInfo"][]): string {
  const rules = changes.filter((change) => change.what === "rule").length;
  const pieces = changes.filter((change) => change.what === "piece").length;
  const pages = changes
    .filter((change) => change.what === "pages")
    .reduce((sum, change) => sum + change.count, 0);
  const parts = [
    rules ? count(rules, "rule") : "",
    pieces ? count(pieces, "piece") : "",
    pages ? count(pages, "page") : "",
    changes.some((change) => change.what === "order") ? "the order" : "",
    changes.some((change) => change.what === "site") ? "the site" : "",
  ].filter(Boolean);
  return parts.length ? `Changed ${parts.join(", ")}` : "";
}
