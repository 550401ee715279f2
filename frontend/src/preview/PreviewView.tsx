import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useId, useState } from "react";
import { Link } from "react-router";
import type { Shapes } from "../api/client";
import { previewQuery, searchQuery, treeQuery } from "../api/queries";
import { TracePanel } from "../pages/TracePanel";
import { usePins } from "../pages/usePins";
import { Frame } from "../parts/Frame";
import { PieceName } from "../parts/PieceName";
import { useAddress, useLens, useLinkTo, usePieces, useSite } from "../parts/site";
import { targetName, when } from "../parts/words";

const WIDTHS: Record<string, number> = { phone: 390, tablet: 800, desktop: 1280 };

/** A page as it is rendered: draft, live, or both; with its slots outlined or plain. Click a region for its trace. */
export function PreviewView() {
  const site = useSite();
  const { get, set } = useAddress();
  const linkTo = useLinkTo();
  const lens = useLens();
  const tree = useQuery(treeQuery(site.slug, site.inventory_version)).data;
  const path = get("path") || tree?.paths[0] || "";
  const width = get("width") in WIDTHS ? get("width") : "desktop";
  const outlined = get("slots") !== "off";
  const sides = get("beside") === "live" ? (["live", "draft"] as const) : (["draft"] as const);
  const target = get("target");
  const asked = useQuery({
    ...previewQuery(site.slug, path, lens, "draft", outlined),
    enabled: path !== "",
  });
  // What was drawn of another page says nothing of this one.
  const draft = asked.data?.path === path ? asked.data : undefined;
  const { bySlug } = usePieces();
  const standing = {
    live: site.live ? `published ${when(site.live.published)}` : "",
    draft: draft ? draftStanding(draft.standing, (slug) => bySlug.get(slug)?.name ?? slug) : "",
  };
  return (
    <>
      <div className="preview">
        <div className="row" style={{ flexWrap: "wrap" }}>
          <PageFinder
            path={path}
            onChoose={(chosen) => set({ path: chosen, target: null }, { replace: false })}
          />
          <Choice
            label="Width"
            value={width}
            options={["phone", "tablet", "desktop"]}
            onChange={(value) => set({ width: value === "desktop" ? null : value })}
          />
          <Choice
            label="Beside it"
            value={sides.length > 1 ? "side by side" : "one"}
            options={["one", "side by side"]}
            onChange={(value) => set({ beside: value === "one" ? null : "live" })}
          />
          <Choice
            label="Outlines"
            value={outlined ? "slots" : "plain"}
            options={["slots", "plain"]}
            onChange={(value) => set({ slots: value === "plain" ? "off" : null })}
          />
        </div>
        <div className="views">
          {sides.map((state) => (
            <Side
              key={state}
              path={path}
              state={state}
              standing={standing[state]}
              outlined={outlined}
              width={WIDTHS[width] as number}
              onSlot={(slot) => set({ target: slot || null })}
              onLink={(link) => set({ path: link, target: null }, { replace: false })}
            />
          ))}
        </div>
      </div>
      {target ? (
        <PreviewTrace path={path} target={target} onClose={() => set({ target: null })} />
      ) : (
        <aside className="side" style={{ width: 286 }} aria-label="What this page gets">
          <h2>{draft?.title ?? path}</h2>
          <p className="mute mono">{path}</p>
          <h3>What it gets in the draft</h3>
          {draft?.targets.map((one) => (
            <TargetRow key={one.target} one={one} onOpen={() => set({ target: one.target })} />
          ))}
          <div className="row" style={{ marginTop: 14, flexWrap: "wrap" }}>
            <Button variant="outlined" component={Link} to={linkTo("pages", { path, target: "template" })}>
              Show in the page list
            </Button>
            {site.live && (
              <Button
                variant="outlined"
                component="a"
                href={`${site.published_origin}${path}`}
                target="_blank"
                rel="noreferrer"
              >
                Open the live page
              </Button>
            )}
          </div>
        </aside>
      )}
    </>
  );
}

function PreviewTrace({ path, target, onClose }: { path: string; target: string; onClose: () => void }) {
  const pins = usePins();
  return <TracePanel path={path} target={target} pins={pins} onClose={onClose} />;
}

interface SideProps {
  path: string;
  state: "draft" | "live";
  standing: string;
  outlined: boolean;
  width: number;
  onSlot: (slot: string) => void;
  onLink: (path: string) => void;
}

function Side({ path, state, standing, outlined, width, onSlot, onLink }: SideProps) {
  const site = useSite();
  const lens = useLens();
  const shown = useQuery({
    ...previewQuery(site.slug, path, lens, state, outlined),
    enabled: path !== "",
  });
  return (
    <section className="view" aria-label={state === "live" ? "Live" : "Draft"}>
      <p>
        <b>{state === "live" ? "Live" : "Draft"}</b>
        <span className="mute clip" title={standing}>
          {standing}
        </span>
      </p>
      {shown.isError ? (
        <p className="note-box">{shown.error.message}</p>
      ) : (
        <Frame
          html={shown.data?.path === path ? shown.data.html : ""}
          title={`${path}, ${state}`}
          width={width}
          onSlot={onSlot}
          onLink={onLink}
        />
      )}
    </section>
  );
}

/** How the draft of a page stands to what is live: through this lens, and for everybody else. */
function draftStanding(standing: Shapes["Standing"] | null, nameOf: (slug: string) => string): string {
  if (!standing) return "not live until you publish";
  const what = [
    ...standing.targets.map((target) => targetName(target).toLowerCase()),
    ...standing.redraws.map(nameOf),
    ...(standing.own ? ["its own content or facts"] : []),
  ].join(", ");
  const others = standing.others.join("; ");
  if (!standing.same_through_lens) {
    return [
      what ? `differs from live in ${what}` : "differs from live",
      what && others && `and for ${others}`,
    ]
      .filter(Boolean)
      .join("; ");
  }
  if (standing.untold) return "same as live for this visitor, now; for others it cannot be told";
  return others
    ? `same as live for this visitor, now; differs for ${others}`
    : "same as live, for everyone from now on";
}

function TargetRow({ one, onOpen }: { one: Shapes["PreviewTarget"]; onOpen: () => void }) {
  const { outcome } = one;
  const shown = outcome.state === "filled";
  return (
    <div className="fact-row">
      <span className="mute">{targetName(one.target)}</span>
      <button type="button" className="plain" onClick={onOpen} title={one.by ? `by ${one.by}` : undefined}>
        {shown ? (
          outcome.pieces.map((slug) => <PieceName key={slug} slug={slug} />)
        ) : (
          <span className="mute">
            {{ empty: "left empty", unset: "nothing set", locked: "locked", filled: "" }[outcome.state]}
          </span>
        )}
        {shown && !one.seated && <span style={{ color: "var(--warn)" }}> no place here</span>}
      </button>
    </div>
  );
}

interface ChoiceProps {
  label: string;
  value: string;
  options: string[];
  onChange: (value: string) => void;
}

function Choice({ label, value, options, onChange }: ChoiceProps) {
  return (
    <fieldset className="seg" aria-label={label} style={{ padding: 0, margin: 0 }}>
      {options.map((option) => (
        <button type="button" key={option} aria-pressed={option === value} onClick={() => onChange(option)}>
          {option.charAt(0).toUpperCase() + option.slice(1)}
        </button>
      ))}
    </fieldset>
  );
}

/** The address of the page, or part of a title to find another. */
function PageFinder({ path, onChoose }: { path: string; onChoose: (path: string) => void }) {
  const site = useSite();
  const id = useId();
  const tree = useQuery(treeQuery(site.slug, site.inventory_version)).data;
  const [text, setText] = useState<string | null>(null);
  const [active, setActive] = useState(0);
  const typed = text?.trim() ?? "";
  const found = useQuery({
    ...searchQuery(site.slug, typed.startsWith("/") ? `"${typed}"` : typed),
    enabled: typed !== "",
  });
  const numbers = typed && found.data && !found.isError ? found.data.numbers.slice(0, 10) : [];
  const choose = (number: number | undefined) => {
    const chosen = number === undefined ? undefined : tree?.paths[number];
    if (chosen) onChoose(chosen);
    setText(null);
    setActive(0);
  };
  return (
    <div className="query-field" style={{ minWidth: 220 }}>
      <input
        role="combobox"
        aria-label="Page to look at"
        aria-expanded={numbers.length > 0}
        aria-controls={id}
        value={text ?? path}
        onFocus={(event) => event.target.select()}
        onBlur={() => setText(null)}
        onChange={(event) => {
          setText(event.target.value);
          setActive(0);
        }}
        onKeyDown={(event) => {
          if (event.key === "ArrowDown") setActive(Math.min(active + 1, numbers.length - 1));
          else if (event.key === "ArrowUp") setActive(Math.max(active - 1, 0));
          else if (event.key === "Enter") choose(numbers[active]);
          else if (event.key === "Escape") setText(null);
          else return;
          event.preventDefault();
        }}
      />
      {numbers.length > 0 && (
        <ul className="offer" id={id} role="listbox" aria-label="Pages">
          {numbers.map((number, place) => (
            <li
              key={number}
              role="option"
              aria-selected={place === active}
              onMouseDown={(event) => event.preventDefault()}
              onClick={() => choose(number)}
            >
              <span>{tree?.titles[number]}</span>
              <span className="mono mute count">{tree?.paths[number]}</span>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
