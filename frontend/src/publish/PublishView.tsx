import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { Link } from "react-router";
import { answer, api, type Shapes } from "../api/client";
import { changesQuery, revisionsQuery } from "../api/queries";
import { outcomeText } from "../pages/Grid";
import { useDraftList } from "../parts/drafts";
import { useMessage, useTellError } from "../parts/messages";
import { PieceName } from "../parts/PieceName";
import { useLinkTo, usePieces, useRefresh, useSite } from "../parts/site";
import { count, targetName, when } from "../parts/words";

/** What changed since live, in words and on pages; publishing it; and everything published before. */
export function PublishView() {
  const site = useSite();
  const changes = useQuery(changesQuery(site.slug));
  const revisions = useQuery(revisionsQuery(site.slug));
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
        {changes.isPending && (
          <p className="mute">Working out what publishing would change, for everyone …</p>
        )}
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
            {draft.kind}{" "}
            <Link to={linkTo(`${draft.kind}s/${draft.id}`)}>{draft.name || "without a name"}</Link>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Changes({ changes, published }: { changes: Shapes["ChangesInfo"]; published: boolean }) {
  if (changes.parts.length === 0) {
    return <p className="mute">Nothing to publish: the live site is the same as the draft.</p>;
  }
  const unseen = changes.shifts.filter((shift) => !shift.visible);
  return (
    <>
      <ul className="list" aria-label="What changed">
        {changes.parts.map((change) => (
          <li key={`${change.what} ${change.how} ${change.name}`}>{inWords(change)}</li>
        ))}
      </ul>
      <h2 style={{ marginTop: 18 }}>
        {changes.pages
          ? `Looks different on ${count(changes.pages, "page")}`
          : "No page looks different, for anyone at any time from now on"}
      </h2>
      <ul className="list audiences" aria-label="For whom, when and where">
        {changes.audiences.map((audience) => (
          <Where key={audience.words} where={audience}>
            {audience.words}
          </Where>
        ))}
        {changes.untold.pages > 0 && (
          <Where where={changes.untold}>more combinations of visitors than can be told apart</Where>
        )}
      </ul>
      {published && changes.shifts.some((shift) => shift.visible) && <h3>What comes where</h3>}
      {published &&
        changes.shifts
          .filter((shift) => shift.visible)
          .map((shift) => (
            <BeforeAfter
              key={JSON.stringify([shift.target, shift.before, shift.after, shift.words])}
              shift={shift}
              names={changes.names}
            />
          ))}
      {(changes.redraws.length > 0 || changes.own.pages > 0) && <h3>What is drawn differently</h3>}
      <ul className="list" aria-label="Drawn differently">
        {changes.redraws.map((redraw) => (
          <Where key={`${redraw.piece} ${redraw.words}`} where={redraw}>
            <PieceName slug={redraw.piece} />
            {redraw.words !== "everyone" && <span className="mute"> for {redraw.words}</span>}
          </Where>
        ))}
        {changes.own.pages > 0 && published && (
          <Where where={changes.own}>Pages that come or go, or whose own content or facts changed</Where>
        )}
      </ul>
      {unseen.length > 0 && (
        <>
          <h3>Changes nothing to be seen: the template has no place</h3>
          <ul className="list">
            {unseen.map((shift) => (
              <Where key={JSON.stringify([shift.target, shift.after, shift.words])} where={shift}>
                {targetName(shift.target)}
              </Where>
            ))}
          </ul>
        </>
      )}
    </>
  );
}

/** One line of what differs, with its pages behind a button. */
function Where({ where, children }: { where: Shapes["Somewhere"]; children: ReactNode }) {
  const [open, setOpen] = useState(false);
  return (
    <li>
      <div className="row">
        <span className="grow">{children}</span>
        <PagesButton where={where} open={open} onOpen={setOpen} />
      </div>
      {open && <Paths where={where} />}
    </li>
  );
}

interface PagesButtonProps {
  where: Shapes["Somewhere"];
  open: boolean;
  onOpen: (open: boolean) => void;
}

function PagesButton({ where, open, onOpen }: PagesButtonProps) {
  return (
    <Button variant="text" aria-expanded={open} onClick={() => onOpen(!open)}>
      {count(where.pages, "page")}
    </Button>
  );
}

function Paths({ where }: { where: Shapes["Somewhere"] }) {
  const linkTo = useLinkTo();
  return (
    <p className="mono paths">
      {where.paths.map((path) => (
        <Link key={path} to={linkTo("preview", { path, beside: "live" })}>
          {path}
        </Link>
      ))}
      {where.pages > where.paths.length && `and ${count(where.pages - where.paths.length, "more page")}`}
    </p>
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

interface BeforeAfterProps {
  shift: Shapes["ShiftInfo"];
  names: Record<string, string>;
}

function BeforeAfter({ shift, names }: BeforeAfterProps) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <div className="before-after">
        <span className="mute">{targetName(shift.target)}</span>
        <Band outcome={shift.before} names={names} none="was not there" />
        <span aria-hidden="true">→</span>
        <Band outcome={shift.after} names={names} none="is gone" />
        <PagesButton where={shift} open={open} onOpen={setOpen} />
        {shift.words !== "everyone" && <span className="mute for">for {shift.words}</span>}
      </div>
      {open && <Paths where={shift} />}
    </>
  );
}

interface BandProps {
  outcome: Shapes["OutcomeInfo"] | null;
  names: Record<string, string>;
  none: string;
}

function Band({ outcome, names, none }: BandProps) {
  const { bySlug } = usePieces();
  if (!outcome) return <span className="mute">{none}</span>;
  const colour = bySlug.get(outcome.pieces[0] ?? "")?.colour;
  const look = outcome.state === "empty" ? "hatched" : outcome.pieces.length ? "" : "dotted";
  return (
    <span className="band" style={{ "--s": colour ?? "var(--empty)" } as React.CSSProperties}>
      <i className={look} />
      <span className="clip">{outcomeText(outcome, (slug) => names[slug])}</span>
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
    <div className="publish-form">
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
