import Button from "@mui/material/Button";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { askAnew } from "../api/anew";
import { answer, api, type Shapes } from "../api/client";
import { type Walk, walkQuery, walksKey } from "../api/walkQueries";
import { useCommand } from "../parts/commands";
import { LabelledField } from "../parts/controls";
import { useTellError } from "../parts/messages";
import { Opening } from "../parts/Opening";
import { useLens, useRefresh, useSite } from "../parts/site";
import { count, when } from "../parts/words";
import { walkWords } from "./walk";

type Walked = Shapes["WalkedPage"];

interface Props {
  walk: Walk;
  path: string;
  /** The site's version that is seen; undefined until the page stands there. */
  version: number | undefined;
  /** Whether something is tried on, so that what is seen is not the draft. */
  onTrial: boolean;
  onGo: (path: string) => void;
  onEnd: () => void;
}

/** Going through pages one by one, saying of each whether it is fine. */
export function WalkBar({ walk, path, version, onTrial, onGo, onEnd }: Props) {
  const site = useSite();
  const found = useQuery(walkQuery(site.slug, walk, useLens()));
  const pages = found.data?.items ?? [];
  const place = pages.findIndex((one) => one.path === path);
  const go = (to: number) => {
    const page = pages[to];
    if (page) onGo(page.path);
  };
  const next = () => go(place + 1);
  const before = () => go(place < 0 ? pages.length - 1 : place - 1);
  useCommand("Next page of the walk", "J", next);
  useCommand("Page before in the walk", "K", before);
  const here = pages[place];
  if (found.isError) return <p className="note-box">{found.error.message}</p>;
  if (!found.data) return <section className="walk" aria-label="Walk" aria-busy="true" />;
  if (pages.length === 0)
    return (
      <section className="walk row" aria-label="Walk">
        <span className="grow">There are no pages {walkWords(walk)}.</span>
        <Button variant="text" onClick={onEnd}>
          End the walk
        </Button>
      </section>
    );
  const told = pages.map(standing);
  const open = told.filter((one) => one === "open" || one === "again").length;
  const goOn = () => {
    const after = [...pages.keys()].map((step) => (place + 1 + step) % pages.length);
    const waiting = after.find((one) => one !== place && ["open", "again"].includes(told[one] ?? ""));
    if (waiting !== undefined) go(waiting);
  };
  return (
    <section className="walk" aria-label="Walk">
      <div className="row">
        <Opening
          text={`${here ? `Page ${place + 1} of ${found.data.total}` : count(found.data.total, "page")} ${walkWords(walk)}`}
          about="Pages of the walk"
          variant="text"
        >
          {(close) => (
            <List
              pages={pages}
              total={found.data.total}
              path={path}
              onGo={(to) => {
                close();
                onGo(to);
              }}
            />
          )}
        </Opening>
        <Button variant="outlined" disabled={place === 0} title="K" onClick={before}>
          Before
        </Button>
        <Button
          variant="outlined"
          disabled={place === pages.length - 1}
          title={place === pages.length - 1 ? "This is the last page of the walk" : "J"}
          onClick={next}
        >
          Next
        </Button>
        <Bar told={told} place={place} />
        <span className="mute grow" role="status">
          {open === 0
            ? told.includes("amiss")
              ? `All looked at, ${told.filter((one) => one === "amiss").length} not fine`
              : "All looked at, all fine"
            : `${open} to look at`}
        </span>
        <Button variant="text" onClick={onEnd}>
          End the walk
        </Button>
      </div>
      {here && (
        <MarkRow
          key={`${path} ${here.mark?.made}`}
          page={here}
          version={onTrial ? undefined : version}
          waitsFor={onTrial ? "Waits until the trial ends: what is seen is not the draft" : ""}
          onMarked={goOn}
        />
      )}
    </section>
  );
}

type Standing = "open" | "fine" | "amiss" | "again";

/** How a page stands: not looked at, found fine or not, or changed since somebody looked. */
function standing({ mark }: Walked): Standing {
  if (!mark) return "open";
  if (!mark.holds) return "again";
  return mark.fine ? "fine" : "amiss";
}

const MARKS: Record<Standing, string> = { open: "·", fine: "✓", amiss: "✗", again: "↻" };
const MARK_WORDS: Record<Standing, string> = {
  open: "not looked at",
  fine: "fine",
  amiss: "not fine",
  again: "changed since it was looked at",
};

/** How far the walk has come, as a bar of its pages. */
function Bar({ told, place }: { told: Standing[]; place: number }) {
  const order: Standing[] = ["fine", "amiss", "again", "open"];
  const counts = order.map((one) => told.filter((other) => other === one).length);
  return (
    <span
      className="walked"
      role="img"
      aria-label={order.map((one, number) => `${counts[number]} ${MARK_WORDS[one]}`).join(", ")}
    >
      {told.map((one, number) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the pages of a walk are told by their place
        <i key={number} className={number === place ? `${one} here` : one} />
      ))}
    </span>
  );
}

interface MarkRowProps {
  page: Walked;
  version: number | undefined;
  /** Why nothing can be said of it now; empty where that takes but a moment. */
  waitsFor: string;
  onMarked: () => void;
}

/** What was found of the page at hand, and saying it. */
function MarkRow({ page, version, waitsFor, onMarked }: MarkRowProps) {
  const site = useSite();
  const client = useQueryClient();
  const refresh = useRefresh();
  const tellError = useTellError();
  const [note, setNote] = useState(page.mark?.note ?? "");
  const [busy, setBusy] = useState(false);
  const field = useRef<HTMLDivElement>(null);
  const waits = version === undefined || busy;
  const mark = async (fine: boolean) => {
    if (version === undefined || busy) return;
    if (!fine && !note.trim()) {
      field.current?.querySelector("input")?.focus();
      return;
    }
    setBusy(true);
    try {
      const body = { path: page.path, fine, note, version };
      await answer(api.PUT("/api/sites/{site}/marks", { params: { path: { site: site.slug } }, body }));
      onMarked();
      await askAnew(client, { queryKey: walksKey(site.slug) });
    } catch (error) {
      tellError(error);
      // Somebody edited the draft meanwhile: what is seen is asked anew.
      await refresh();
    }
    setBusy(false);
  };
  const takeAway = async () => {
    try {
      await api.DELETE("/api/sites/{site}/marks", {
        params: { path: { site: site.slug }, query: { path: page.path } },
      });
    } catch (error) {
      tellError(error);
    }
    await askAnew(client, { queryKey: walksKey(site.slug) });
  };
  useCommand("This page is fine", "F", () => mark(true));
  useCommand("This page is not fine", "X", () => mark(false));
  return (
    <form
      className="row"
      onSubmit={(event) => {
        event.preventDefault();
        mark(false);
      }}
    >
      <Button variant="outlined" disabled={waits} title={waitsFor || "F"} onClick={() => mark(true)}>
        Fine
      </Button>
      <Button variant="outlined" color="error" disabled={waits} title={waitsFor || "X"} type="submit">
        Not fine
      </Button>
      <div ref={field} className="walk-note">
        <LabelledField
          label="Note about this page"
          placeholder="What is not fine, or what to know"
          value={note}
          onChange={setNote}
        />
      </div>
      {page.mark && (
        <>
          <span className={page.mark.holds ? "mute" : "warn"}>
            {page.mark.by ?? "Somebody"} found it {page.mark.fine ? "fine" : "not fine"},{" "}
            {when(page.mark.made)}
            {!page.mark.holds && "; it has changed since"}
          </span>
          <Button variant="text" onClick={takeAway}>
            Take away
          </Button>
        </>
      )}
    </form>
  );
}

interface ListProps {
  pages: Walked[];
  total: number;
  path: string;
  onGo: (path: string) => void;
}

function List({ pages, total, path, onGo }: ListProps) {
  return (
    <>
      <ol className="walk-list">
        {pages.map((page) => (
          <li key={page.path}>
            <button
              type="button"
              className="plain row"
              aria-current={page.path === path}
              onClick={() => onGo(page.path)}
            >
              <span className={`walk-mark ${standing(page)}`} aria-hidden="true">
                {MARKS[standing(page)]}
              </span>
              <span className="clip grow">{page.title}</span>
              <span className="mono mute clip">{page.path}</span>
              <span className="visually-hidden">, {MARK_WORDS[standing(page)]}</span>
            </button>
          </li>
        ))}
      </ol>
      {total > pages.length && <p className="mute">and {count(total - pages.length, "more page")}</p>}
    </>
  );
}
