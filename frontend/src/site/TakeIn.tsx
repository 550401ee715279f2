import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { ApiError, type Shapes } from "../api/client";
import { unfinishedQuery } from "../api/intakeQueries";
import { useRefresh, useSite } from "../parts/site";
import { useAct } from "../parts/useAct";
import { when } from "../parts/words";
import { Impact } from "../publish/Impact";
import { IntakeReport } from "./IntakeReport";
import { crawlProgress, giveUp, type Progress, type Source, siteFiles, takeIn } from "./intake";

type Stage =
  | { name: "idle" }
  | { name: "running"; progress: Progress }
  | { name: "asked"; look: Shapes["WeighedIntake"]; decide: (wanted: boolean) => void }
  | { name: "done"; report: Shapes["IntakeReport"] }
  | { name: "stopped" }
  | { name: "failed"; message: string };

/** Taking the pages of a site in, from wherever they are. */
export function TakeIn() {
  const site = useSite();
  const refresh = useRefresh();
  const input = useRef<HTMLInputElement>(null);
  const stopper = useRef<AbortController | null>(null);
  const [stage, setStage] = useState<Stage>({ name: "idle" });
  const oneFile = useRef<HTMLInputElement>(null);
  const startFolder = (chosen: FileList | null) => {
    const files = siteFiles(chosen ?? []);
    if (files.length) return start(files);
    setStage({ name: "failed", message: "This folder holds no files. Choose another." });
  };
  const start = async (source: Source) => {
    stopper.current = new AbortController();
    setStage({ name: "running", progress: { part: 0, told: "Beginning …" } });
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
      setStage(stopped ? { name: "stopped" } : { name: "failed", message: detail });
      await refresh();
    }
  };
  return (
    <section aria-label="Take pages in" style={{ maxWidth: 720 }}>
      <h2>Take pages in</h2>
      <p>
        Pages come with their pictures, styles and downloads. Facts are read from where sites put them: the
        language, the canonical link, Open Graph, schema.org. Every address that a file had keeps answering. A
        page that is not there any more is marked as gone; rules and pieces stay as they are.
      </p>
      <p className="mute" style={{ margin: "6px 0 12px" }}>
        On the command line: <span className="mono">./navrel intake FOLDER --site {site.slug}</span>, also
        with an archive or an address
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
          if (file) start(file);
          event.target.value = "";
        }}
      />
      {stage.name === "running" ? (
        <div className="row">
          <LinearProgress
            variant="determinate"
            aria-label="Files read"
            value={100 * stage.progress.part}
            style={{ flex: 1 }}
          />
          <span role="status">{stage.progress.told}</span>
          <Button variant="outlined" onClick={() => stopper.current?.abort()}>
            Stop
          </Button>
        </div>
      ) : stage.name === "asked" ? (
        <Look look={stage.look} onDecide={stage.decide} />
      ) : (
        <>
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
          <Address onStart={start} />
          <Unfinished onStart={start} />
        </>
      )}
      {stage.name === "stopped" && (
        <p className="note-box" role="status">
          Stopped. The site is as it was.
        </p>
      )}
      {stage.name === "failed" && (
        <p className="note-box bad" role="alert">
          {stage.message}
        </p>
      )}
      {stage.name === "done" && <IntakeReport report={stage.report} />}
    </section>
  );
}

interface StartProps {
  onStart: (source: Source) => void;
}

/** Taking a site in by its address. */
function Address({ onStart }: StartProps) {
  const site = useSite();
  const [address, setAddress] = useState(site.base_url);
  return (
    <form
      className="row"
      style={{ marginTop: 12, alignItems: "flex-start" }}
      onSubmit={(event) => {
        event.preventDefault();
        onStart(address.trim());
      }}
    >
      <TextField
        label="Address of the site"
        helperText="All that its pages and sitemaps lead to, on that host alone"
        size="small"
        value={address}
        placeholder="https://example.org/"
        onChange={(event) => setAddress(event.target.value)}
        style={{ flex: 1, maxWidth: 420 }}
      />
      <Button
        type="submit"
        variant="outlined"
        disabled={!address.trim()}
        title={
          address.trim()
            ? "All that its pages and sitemaps lead to, as robots.txt allows"
            : "Say its address first"
        }
      >
        Read it from there
      </Button>
    </form>
  );
}

/** Crawls that stopped halfway: they go on from there, or are given up. */
function Unfinished({ onStart }: StartProps) {
  const site = useSite();
  const act = useAct();
  const crawls = useQuery(unfinishedQuery(site.slug)).data ?? [];
  if (!crawls.length) return null;
  return (
    <section aria-label="Stopped halfway" style={{ marginTop: 16 }}>
      <h3>Stopped halfway</h3>
      {crawls.map((one) => (
        <div key={one.id} className="row">
          <span style={{ flex: 1 }}>
            <span className="mono">{one.source}</span>{" "}
            <span className="mute">
              begun {when(one.started)}; {crawlProgress(one).told}
            </span>
          </span>
          <Button variant="outlined" onClick={() => onStart(one)}>
            {one.waiting ? "Go on" : "Look at what comes of it"}
          </Button>
          <Button
            variant="text"
            color="inherit"
            onClick={() =>
              act(async () => {
                await giveUp(site.slug, one.id);
                return `Gave up reading ${one.source}. The site is as it was.`;
              })
            }
          >
            Give it up
          </Button>
        </div>
      ))}
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
      <IntakeReport report={look.report} />
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
