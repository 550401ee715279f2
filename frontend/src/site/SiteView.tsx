import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import LinearProgress from "@mui/material/LinearProgress";
import Switch from "@mui/material/Switch";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";
import { ApiError, api, type Shapes } from "../api/client";
import { intakesQuery } from "../api/queries";
import { useLinkTo, useRefresh, useSite } from "../parts/site";
import { useAct } from "../parts/useAct";
import { count, when } from "../parts/words";
import { Impact } from "../publish/Impact";
import { FirstSteps } from "./FirstSteps";
import { type Progress, siteFiles, takeIn } from "./intake";
import { Menus } from "./Menus";
import { Settings } from "./Settings";
import { SetUp } from "./SetUp";

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
          {site.pages.toLocaleString("en")}
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

type Stage =
  | { name: "idle" }
  | { name: "running"; progress: Progress }
  | { name: "asked"; look: Shapes["WeighedIntake"]; decide: (wanted: boolean) => void }
  | { name: "done"; report: Shapes["IntakeReport"] }
  | { name: "failed"; message: string };

function TakeIn() {
  const site = useSite();
  const refresh = useRefresh();
  const input = useRef<HTMLInputElement>(null);
  const stopper = useRef<AbortController | null>(null);
  const [stage, setStage] = useState<Stage>({ name: "idle" });
  const oneFile = useRef<HTMLInputElement>(null);
  const startFolder = (chosen: FileList | null) => {
    const files = siteFiles(chosen ?? []);
    if (files.length) return start(files, files.length);
    setStage({ name: "failed", message: "This folder holds no files. Choose another." });
  };
  const start = async (source: Parameters<typeof takeIn>[1], total: number) => {
    stopper.current = new AbortController();
    setStage({ name: "running", progress: { sent: 0, total } });
    try {
      const report = await takeIn(
        site.slug,
        source,
        (progress) => setStage({ name: "running", progress }),
        stopper.current.signal,
        // What comes to a site that has pages is looked at first.
        site.pages ? (look) => new Promise((decide) => setStage({ name: "asked", look, decide })) : undefined,
      );
      setStage(report ? { name: "done", report } : { name: "idle" });
      if (report) await refresh();
    } catch (error) {
      const stopped = error instanceof DOMException && error.name === "AbortError";
      const detail =
        error instanceof ApiError ? [error.message, error.detail].filter(Boolean).join(". ") : String(error);
      setStage({ name: "failed", message: stopped ? "Stopped. The site is as it was." : detail });
    }
  };
  return (
    <section aria-label="Take pages in" style={{ maxWidth: 720 }}>
      <h2>Take pages in</h2>
      <p>
        From the folder of a site: its pages, and its pictures, styles and downloads with them. Facts of pages
        are read from where sites put them: the language, the canonical link, Open Graph, schema.org. Every
        address that a file had keeps answering. A page that the folder no longer holds is marked as gone;
        rules and pieces stay as they are. An archive (ZIP, tar, WARC) comes in the same way; a table of facts
        (CSV, JSON Lines) has a page a row, for a site whose pages live in another system.
      </p>
      <p className="mute" style={{ margin: "6px 0 12px" }}>
        On the command line: <span className="mono">./navrel intake FOLDER --site {site.slug}</span>
      </p>
      <input
        ref={input}
        type="file"
        hidden
        multiple
        aria-label="Folder of HTML files"
        {...{ webkitdirectory: "" }}
        onChange={(event) => {
          startFolder(event.target.files);
          event.target.value = "";
        }}
      />
      <input
        ref={oneFile}
        type="file"
        hidden
        aria-label="Archive, WARC file or table"
        accept=".zip,.tar,.gz,.tgz,.bz2,.xz,.warc,.csv,.tsv,.jsonl,.ndjson"
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) start(file, 1);
          event.target.value = "";
        }}
      />
      {stage.name === "running" ? (
        <div className="row">
          <LinearProgress
            variant="determinate"
            aria-label="Files read"
            value={(100 * stage.progress.sent) / stage.progress.total}
            style={{ flex: 1 }}
          />
          <span role="status">
            {stage.progress.sent < stage.progress.total
              ? `${stage.progress.sent} of ${count(stage.progress.total, "file")}`
              : "Looking at what comes of it …"}
          </span>
          <Button variant="outlined" onClick={() => stopper.current?.abort()}>
            Stop
          </Button>
        </div>
      ) : stage.name === "asked" ? (
        <Look look={stage.look} onDecide={stage.decide} />
      ) : (
        <div className="row">
          <Button variant="contained" onClick={() => input.current?.click()}>
            Choose a folder
          </Button>
          <Button
            variant="outlined"
            title="ZIP, tar or WARC; or a table of facts as CSV or JSON Lines"
            onClick={() => oneFile.current?.click()}
          >
            Choose an archive or a table
          </Button>
        </div>
      )}
      {stage.name === "failed" && (
        <p className="note-box bad" role="alert">
          {stage.message}
        </p>
      )}
      {stage.name === "done" && <Report report={stage.report} />}
    </section>
  );
}

interface LookProps {
  look: Shapes["WeighedIntake"];
  onDecide: (wanted: boolean) => void;
}

/** What taking pages in would bring and change, before it is done. */
function Look({ look, onDecide }: LookProps) {
  return (
    <section aria-label="What would come of it" className="item-row">
      <Report report={look.report} />
      <Impact impact={look.impact} published={false} />
      <div className="row">
        <Button variant="contained" onClick={() => onDecide(true)}>
          Take it in
        </Button>
        <Button variant="text" color="inherit" onClick={() => onDecide(false)}>
          Leave it
        </Button>
      </div>
    </section>
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
          <Report report={intake.report} />
        </details>
      ))}
    </section>
  );
}

function Report({ report }: { report: Shapes["IntakeReport"] }) {
  return (
    <div className="note-box" role="status">
      <b>{count(report.pages, "page")}:</b> {report.added} added, {report.updated} updated, {report.returned}{" "}
      back again, {report.gone} gone.
      {report.assets > 0 && ` ${count(report.assets, "other file")} with them.`}
      {report.aliases > 0 &&
        ` ${count(report.aliases, "address leads", "addresses lead")} on to where a page is now.`}
      {report.corrected > 0 &&
        ` ${count(report.corrected, "page keeps", "pages keep")} facts that were corrected by hand.`}
      {!!report.dropped?.length && (
        <p style={{ marginTop: 8 }}>
          Left out of the texts, as it could run or reach out:{" "}
          {report.dropped.map((one) => `${one.element} ${one.count.toLocaleString("en")}`).join(", ")}.
        </p>
      )}
      <Notes
        title="moved, and what names them follows"
        what="page"
        total={report.moved_count ?? 0}
        notes={report.moved ?? []}
      />
      <Notes title="skipped" total={report.skipped_count} notes={report.skipped} />
      <Notes title="read with a remark" total={report.remark_count} notes={report.remarks} />
    </div>
  );
}

interface NotesProps {
  title: string;
  what?: string;
  total: number;
  notes: Shapes["FileNote"][];
}

function Notes({ title, what = "file", total, notes }: NotesProps) {
  if (!total) return null;
  return (
    <>
      <p style={{ marginTop: 8 }}>
        <b>
          {count(total, what)} {title}
        </b>
      </p>
      <ul className="list">
        {notes.map((note) => (
          <li key={note.file}>
            <span className="mono">{note.file}</span> <span className="mute">{note.reason}</span>
          </li>
        ))}
      </ul>
      {total > notes.length && <p className="mute">and {total - notes.length} more</p>}
    </>
  );
}
