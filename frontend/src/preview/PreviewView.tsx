import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { Shapes } from "../api/client";
import { previewQuery, treeQuery } from "../api/queries";
import { TracePanel } from "../pages/TracePanel";
import { usePins } from "../pages/usePins";
import { Segments } from "../parts/controls";
import { Frame } from "../parts/Frame";
import { PageFinder } from "../parts/PageFinder";
import { PieceName } from "../parts/PieceName";
import { useAddress, useLens, useLinkTo, usePieces, useSite } from "../parts/site";
import { settingOf, targetName, valueText, when } from "../parts/words";
import "./preview.css";

const WIDTHS: Record<string, number> = { phone: 390, tablet: 800, desktop: 1280 };
const WIDTH_NAMES = [
  ["phone", "Phone"],
  ["tablet", "Tablet"],
  ["desktop", "Desktop"],
] as const;

/** A page as it is rendered: draft, live, or both; with its slots outlined or plain. Click a region for its trace. */
export function PreviewView() {
  const site = useSite();
  const { get, set } = useAddress();
  const linkTo = useLinkTo();
  const lens = useLens();
  const tree = useQuery(treeQuery(site.slug, site.inventory_version)).data;
  const path = get("path") || tree?.paths[0] || "";
  const width = WIDTH_NAMES.find(([name]) => name === get("width"))?.[0] ?? "desktop";
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
          <Segments
            label="Width"
            value={width}
            options={WIDTH_NAMES}
            onChange={(value) => set({ width: value === "desktop" ? null : value })}
          />
          <Segments
            label="Beside it"
            value={sides.length > 1 ? "live" : "one"}
            options={[
              ["one", "One"],
              ["live", "Side by side"],
            ]}
            onChange={(value) => set({ beside: value === "one" ? null : "live" })}
          />
          <Segments
            label="Outlines"
            value={outlined ? "on" : "off"}
            options={[
              ["on", "Slots"],
              ["off", "Plain"],
            ]}
            onChange={(value) => set({ slots: value === "off" ? "off" : null })}
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
    ...(standing.dress ? ["the dress"] : []),
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
  const isSetting = settingOf(one.target) !== "";
  return (
    <div className="fact-row">
      <span className="mute">{targetName(one.target)}</span>
      <button type="button" className="plain" onClick={onOpen} title={one.by ? `by ${one.by}` : undefined}>
        {isSetting ? (
          <span className={shown ? "" : "mute"}>{valueText(outcome.value)}</span>
        ) : shown ? (
          outcome.pieces.map((slug) => <PieceName key={slug} slug={slug} />)
        ) : (
          <span className="mute">
            {{ empty: "left empty", unset: "nothing set", locked: "locked", filled: "" }[outcome.state]}
          </span>
        )}
        {shown && !isSetting && !one.seated && <span style={{ color: "var(--warn)" }}> no place here</span>}
      </button>
    </div>
  );
}
