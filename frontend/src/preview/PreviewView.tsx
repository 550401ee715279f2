import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { Shapes } from "../api/client";
import { treeQuery } from "../api/queries";
import { TracePanel } from "../pages/TracePanel";
import { usePins } from "../pages/usePins";
import { Segments } from "../parts/controls";
import { PageFinder } from "../parts/PageFinder";
import { PieceName } from "../parts/PieceName";
import { useAddress, useLens, useLinkTo, usePieces, useSite } from "../parts/site";
import { WIDTH_NAMES, WIDTHS, type Width } from "../parts/widths";
import { addedWords, settingOf, targetName, valueText, when } from "../parts/words";
import { Remarks } from "../publish/Remarks";
import { AddBeside } from "./AddBeside";
import { OVERLAYS, Overlaid } from "./Overlaid";
import { PageLooks } from "./PageLooks";
import { Share } from "./Share";
import { Side } from "./Side";
import {
  type Beside,
  isEarlier,
  MOST_BESIDE,
  readBeside,
  type Shown,
  shownBeside,
  tellBeside,
} from "./sides";
import { TrialBar } from "./TrialBar";
import { TryOn } from "./TryOn";
import { readTrial, tellTrial, withTried } from "./trial";
import { useDrawn } from "./useDrawn";
import { usePreview } from "./usePreview";
import { WalkBar } from "./WalkBar";
import { WalkMenu } from "./WalkMenu";
import { readWalk, tellWalk } from "./walk";
import "./preview.css";

const WIDTHS_SHOWN: readonly (readonly [Width | "all", string])[] = [...WIDTH_NAMES, ["all", "All three"]];

/** A page as it is rendered: the draft, and beside it what is live, what was, other visitors, other pages. */
export function PreviewView() {
  const site = useSite();
  const { get, set } = useAddress();
  const linkTo = useLinkTo();
  const lens = useLens();
  const tree = useQuery(treeQuery(site.slug, site.inventory_version)).data;
  const path = get("path") || tree?.paths[0] || "";
  const width = WIDTHS_SHOWN.find(([name]) => name === get("width"))?.[0] ?? "desktop";
  const outlined = get("slots") !== "off";
  const target = get("target");
  const tried = readTrial(get("try"));
  const trial = tellTrial(tried);
  const walk = readWalk(get("walk"));
  const own: Shown = { key: "draft", path, lens, state: "draft", trial };
  // While another lens is on its way, what the page gets through this one stays in sight.
  const draft = usePreview(own, outlined).kept;
  const { bySlug } = usePieces();
  const besides = width === "all" ? [] : readBeside(get("beside"));
  const put = (sides: Beside[]) => set({ beside: tellBeside(sides) || null });
  const ownName = tried.length ? "On trial" : "Draft";
  const drawnBeside = (sides: Beside[]) =>
    sides.map((side) => ({ ...shownBeside(side, own), name: nameOf(side), side }));
  const sides = [
    ...drawnBeside(besides.filter(isEarlier)),
    { ...own, name: ownName, side: null },
    ...drawnBeside(besides.filter((side) => !isEarlier(side))),
  ];
  const other = sides.find(({ side }) => side !== null);
  const overlay = other && OVERLAYS.find(([name]) => name === get("over"))?.[0];
  const { drawn, differing } = useDrawn(
    sides.map(({ key }) => key),
    own.key,
    overlay !== undefined,
  );
  const anyDiffering = [...new Set([...differing.values()].flat())];
  const standing = {
    live: site.live ? `published ${when(site.live.published)}` : "",
    draft: !draft
      ? ""
      : tried.length
        ? "seen by nobody else"
        : draftStanding(draft.standing, (slug) => bySlug.get(slug)?.name ?? slug),
  };
  const tryOn = (actions: typeof tried) => {
    const kept = actions.length ? besides : besides.filter((side) => side.kind !== "plain");
    set({ try: tellTrial(actions) || null, beside: tellBeside(kept) || null });
  };
  const goTo = (to: string) => set({ path: to, target: null }, { replace: false });
  const common = {
    outlined,
    target,
    onSlot: (slot: string) => set({ target: slot || null }),
    onLink: goTo,
  };
  return (
    <>
      <div className="preview">
        <div className="row" style={{ flexWrap: "wrap" }}>
          <PageFinder path={path} anyAddress onChoose={goTo} />
          <Segments
            label="Width"
            value={width}
            options={WIDTHS_SHOWN}
            onChange={(value) => set({ width: value === "desktop" ? null : value })}
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
          {width !== "all" && besides.length < MOST_BESIDE && (
            <>
              {site.live && !besides.some((side) => side.kind === "live") && (
                <Button variant="outlined" onClick={() => put([...besides, { kind: "live" }])}>
                  + live
                </Button>
              )}
              <AddBeside
                path={draft?.path ?? path}
                besides={besides}
                onAdd={(side) => put([...besides, side])}
              />
            </>
          )}
          {other && (
            <Segments
              label="How they stand"
              value={overlay ? "over" : "beside"}
              options={[
                ["beside", "Side by side"],
                ["over", "Laid over"],
              ]}
              onChange={(value) => set({ over: value === "over" ? "wipe" : null })}
            />
          )}
          <span className="grow" />
          <TryOn targets={draft?.targets ?? []} onTry={(action) => tryOn(withTried(tried, action))} />
          {!walk && <WalkMenu onWalk={(chosen) => set({ walk: tellWalk(chosen) })} />}
          <Share path={draft?.path ?? path} walk={walk} />
        </div>
        {walk && (
          <WalkBar
            walk={walk}
            path={draft?.path ?? path}
            version={draft?.version}
            onTrial={tried.length > 0}
            onGo={goTo}
            onEnd={() => set({ walk: null })}
          />
        )}
        {tried.length > 0 && (
          <TrialBar
            actions={tried}
            page={draft}
            walk={walk}
            onChange={tryOn}
            onPlain={
              width !== "all" &&
              besides.length < MOST_BESIDE &&
              !besides.some((side) => side.kind === "plain")
                ? () => put([{ kind: "plain" }, ...besides])
                : null
            }
          />
        )}
        <div className="views">
          {overlay && other ? (
            <Overlaid
              below={{ shown: other, name: other.name, onDrawn: (page) => drawn(other.key, page) }}
              above={{ shown: own, name: ownName, onDrawn: (page) => drawn(own.key, page) }}
              how={overlay}
              onHow={(how) => set({ over: how })}
              width={width === "all" ? WIDTHS.desktop : WIDTHS[width]}
              differing={differing.get(other.key) ?? null}
              onLink={goTo}
            />
          ) : width === "all" ? (
            (["desktop", "tablet", "phone"] as const).map((one) => (
              <Side
                {...common}
                key={one}
                shown={own}
                name={`${WIDTH_NAMES.find(([known]) => known === one)?.[1]}, ${WIDTHS[one]} px`}
                outlined={outlined && one === "desktop"}
                width={WIDTHS[one]}
                differing={null}
                marked={[]}
                onDrawn={() => undefined}
              />
            ))
          ) : (
            sides.map(({ name, side, ...shown }) => (
              <Side
                {...common}
                key={shown.key}
                shown={shown}
                name={name}
                standing={side === null ? standing.draft : side.kind === "live" ? standing.live : ""}
                width={WIDTHS[width]}
                differing={side === null ? null : (differing.get(shown.key) ?? null)}
                marked={side === null ? anyDiffering : (differing.get(shown.key) ?? [])}
                onDrawn={(page) => drawn(shown.key, page)}
                onRemove={side ? () => put(besides.filter((one) => one !== side)) : undefined}
              />
            ))
          )}
        </div>
      </div>
      {target && draft && !draft.instead ? (
        <PreviewTrace path={draft.path} target={target} onClose={() => set({ target: null })} />
      ) : (
        <aside className="side slim" aria-label="What this page gets">
          <h2>{draft?.title ?? path}</h2>
          <p className="mute mono">{path}</p>
          {draft?.instead && (
            <p className="note-box">
              There is no page at this address. What is shown is what is served there instead.
            </p>
          )}
          {site.live && !site.knows_members && IS_MEMBER.test(lens.visitor) && (
            <p className="note-box">
              Where this site is served nobody is signed in: its sign-in is not set up. A member is shown this
              only through the layout API, an export or a program.
            </p>
          )}
          {draft && !draft.instead && <Remarks path={draft.path} />}
          {draft && !tried.length && <PageLooks path={draft.path} />}
          <h3>{tried.length ? "What it gets on trial" : "What it gets in the draft"}</h3>
          {draft?.targets.map((one) => (
            <TargetRow
              key={one.target}
              one={one}
              inPlace={draft.in_place}
              onOpen={() => set({ target: one.target })}
            />
          ))}
          <div className="row" style={{ marginTop: 14, flexWrap: "wrap" }}>
            <Button
              variant="outlined"
              component={Link}
              to={linkTo("pages", { path: draft?.path ?? path, target: "template" })}
            >
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

/** A visitor who is signed in, as a lens writes them. */
const IS_MEMBER = /(^|\s)(signed:in|role:)/;

/** How one that stands beside is called. */
function nameOf(side: Beside): string {
  switch (side.kind) {
    case "live":
      return "Live";
    case "plain":
      return "Draft as it is";
    case "revision":
      return `Revision ${side.number}`;
    case "page":
      return side.path;
    case "lens":
      return [side.visitor || "The usual visitor", side.at && when(side.at)].filter(Boolean).join(", ");
  }
}

function PreviewTrace({ path, target, onClose }: { path: string; target: string; onClose: () => void }) {
  const pins = usePins();
  return <TracePanel path={path} target={target} pins={pins} onClose={onClose} />;
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

interface TargetRowProps {
  one: Shapes["PreviewTarget"];
  inPlace: boolean;
  onOpen: () => void;
}

function TargetRow({ one, inPlace, onOpen }: TargetRowProps) {
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
        {inPlace && one.seated && <span className="mute">{addedWords(outcome)}</span>}
        {shown && !isSetting && !one.seated && <span style={{ color: "var(--warn)" }}> no place here</span>}
      </button>
    </div>
  );
}
