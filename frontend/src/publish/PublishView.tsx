import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { answer, api, type Shapes } from "../api/client";
import { changesQuery, revisionsQuery } from "../api/queries";
import { outcomeText } from "../pages/Grid";
import { useMessage, useTellError } from "../parts/messages";
import { useLens, useLinkTo, usePieces, useRefresh, useSite } from "../parts/site";
import { count, targetName, when } from "../parts/words";

/** What changed since live, in words and on pages; publishing it; and everything published before. */
export function PublishView() {
  const site = useSite();
  const changes = useQuery(changesQuery(site.slug, useLens()));
  const revisions = useQuery(revisionsQuery(site.slug));
  return (
    <>
      <div className="column">
        <h2>Draft against live</h2>
        {changes.isError && <p className="note-box bad">{changes.error.message}</p>}
        {changes.data && <Changes changes={changes.data} published={site.live !== null} />}
        {changes.data && <PublishForm key={changes.data.version} changes={changes.data} />}
      </div>
      <aside className="side" style={{ width: 380 }} aria-label="Revisions">
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
              <div className="mute">{summary(revision.changes)}</div>
            </li>
          ))}
        </ol>
      </aside>
    </>
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

function Changes({ changes, published }: { changes: Shapes["ChangesInfo"]; published: boolean }) {
  if (changes.parts.length === 0) {
    return <p className="mute">Nothing to publish: the live site is the same as the draft.</p>;
  }
  return (
    <>
      <ul className="list" aria-label="What changed">
        {changes.parts.map((change) => (
          <li key={`${change.what} ${change.how} ${change.name}`}>{inWords(change)}</li>
        ))}
      </ul>
      <h2 style={{ marginTop: 18 }}>
        {changes.pages
          ? `Changes ${count(changes.pages, "page")} for this visitor`
          : "No page looks different for this visitor"}
      </h2>
      {published &&
        changes.targets.map((change) => (
          <BeforeAfter key={JSON.stringify([change.target, change.before, change.after])} change={change} />
        ))}
    </>
  );
}

const WHAT: Record<string, string> = { rule: "Rule", piece: "Piece" };
const DETAILS: Record<string, string> = {
  condition: "where and for whom",
  actions: "what it does",
  on: "on or off",
  default_template: "default template",
  base_url: "address",
  time_zone: "time zone",
};

function inWords(change: Shapes["ChangeInfo"]): string {
  const details = change.details.map((detail) => DETAILS[detail] ?? detail).join(", ");
  switch (change.what) {
    case "order":
      return "The order of the rules changed";
    case "site":
      return `The site's ${details} changed`;
    case "pages":
      return change.name === "pages"
        ? `${count(change.count, "page")} ${change.how}`
        : `Contents changed on ${count(change.count, "page")}`;
    default:
      return `${WHAT[change.what]} ${change.name} ${change.how}${details ? `: ${details}` : ""}`;
  }
}

function BeforeAfter({ change }: { change: Shapes["PageChangeInfo"] }) {
  const linkTo = useLinkTo();
  const [open, setOpen] = useState(false);
  return (
    <>
      <div className="before-after">
        <span className="mute">{targetName(change.target)}</span>
        <Band outcome={change.before} none="was not there" />
        <span aria-hidden="true">→</span>
        <Band outcome={change.after} none="is gone" />
        <Button variant="text" aria-expanded={open} onClick={() => setOpen(!open)}>
          {count(change.pages, "page")}
        </Button>
      </div>
      {open && (
        <p className="mono" style={{ padding: "0 0 8px 116px", lineHeight: 1.7 }}>
          {change.paths.map((path) => (
            <Link
              key={path}
              to={linkTo("preview", { path, beside: "live" })}
              style={{ marginRight: 12, whiteSpace: "nowrap" }}
            >
              {path}
            </Link>
          ))}
          {change.pages > change.paths.length &&
            `and ${count(change.pages - change.paths.length, "more page")}`}
        </p>
      )}
    </>
  );
}

function Band({ outcome, none }: { outcome: Shapes["OutcomeInfo"] | null; none: string }) {
  const { bySlug } = usePieces();
  if (!outcome) return <span className="mute">{none}</span>;
  const colour = bySlug.get(outcome.pieces[0] ?? "")?.colour;
  const look = outcome.state === "empty" ? "hatched" : outcome.pieces.length ? "" : "dotted";
  return (
    <span className="band" style={{ "--s": colour ?? "var(--empty)" } as React.CSSProperties}>
      <i className={look} />
      <span className="clip">{outcomeText(outcome, bySlug)}</span>
    </span>
  );
}

function PublishForm({ changes }: { changes: Shapes["ChangesInfo"] }) {
  const site = useSite();
  const refresh = useRefresh();
  const tell = useMessage();
  const tellError = useTellError();
  const [note, setNote] = useState("");
  const [busy, setBusy] = useState(false);
  if (changes.parts.length === 0) return null;
  const publish = async () => {
    setBusy(true);
    try {
      const body = { note, version: changes.version };
      const made = await answer(
        api.POST("/api/sites/{site}/revisions", { params: { path: { site: site.slug } }, body }),
      );
      tell(`Revision ${made.number} is live`);
    } catch (error) {
      tellError(error);
    }
    await refresh();
    setBusy(false);
  };
  return (
    <div style={{ marginTop: 18, maxWidth: 640, display: "grid", gap: 10 }}>
      <label>
        Note for whoever looks back
        <input
          className="input"
          value={note}
          maxLength={500}
          onChange={(event) => setNote(event.target.value)}
        />
      </label>
      <div className="row">
        <Button variant="contained" disabled={busy} onClick={publish}>
          Publish {count(changes.parts.length, "edit")}, {count(changes.pages, "page")}
        </Button>
        <span className="mute">The published site serves it at once.</span>
      </div>
    </div>
  );
}
