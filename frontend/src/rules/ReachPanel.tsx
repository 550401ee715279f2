import { Link } from "react-router";
import type { Shapes } from "../api/client";
import { Chooser } from "../parts/controls";
import { useLinkTo, usePieces } from "../parts/site";
import { count, targetName } from "../parts/words";

interface Props {
  reach: Shapes["ReachInfo"];
  targets: string[];
  target: string;
  saved: boolean;
  /** Whether the numbers are those of the rule as it stands, not of how it stood before. */
  current: boolean;
  /** Whether the rule uses a template itself. */
  uses: boolean;
  onTarget: (target: string) => void;
  onUse: (template: string) => void;
}

/** How far the rule reaches as it stands in the editor, page by page. */
export function ReachPanel({ reach, targets, target, saved, current, uses, onTarget, onUse }: Props) {
  const chosen = targets.includes(target) ? target : (targets[0] ?? "");
  const mine = reach.by_target.find((one) => one.target === chosen);
  const wins = mine?.pages ?? reach.wins;
  const linkTo = useLinkTo();
  return (
    <aside className="side reach" aria-label="Reach">
      <div className="row" style={{ flexWrap: "wrap" }}>
        <h2 className="grow">Reach</h2>
        {targets.length > 1 && (
          <Chooser
            label="Place to look at"
            value={chosen}
            options={targets.map((name) => [name, targetName(name)] as const)}
            onChange={onTarget}
          />
        )}
      </div>
      <div className="numbers" role="status" aria-busy={!current}>
        <div>
          <b>{reach.reached.toLocaleString("en")}</b>
          <span className="mute">{reach.reached === 1 ? "page reached" : "pages reached"}</span>
        </div>
        <div>
          <b>{wins.toLocaleString("en")}</b>
          <span className="mute">where it wins and shows</span>
        </div>
        {saved && (reach.new > 0 || reach.gone > 0) && (
          <div>
            <b style={{ color: "var(--warn)" }}>{sinceSaved(reach)}</b>
            <span className="mute">since last save</span>
          </div>
        )}
      </div>
      {!reach.lets_in && (
        <p className="note-box">
          This rule is not for the visitor or the moment of the lens, so it wins nowhere through it.
        </p>
      )}
      {mine && mine.unplaced > 0 && <NoPlace mine={mine} uses={uses} onUse={onUse} />}
      {reach.reached === 0 && <p className="mute">No page matches yet.</p>}
      {reach.pages.map((page) => (
        <div className="reach-row" key={`${page.fate} ${page.path}`}>
          <Link
            className="clip reached"
            title={`${page.title} ${page.path}`}
            to={linkTo("pages", { path: page.path, target: chosen })}
          >
            {page.title} <span className="mono mute">{page.path}</span>
            {page.new && saved && (
              <>
                {" "}
                <span className="tag new">new</span>
              </>
            )}
          </Link>
          <span className={`tag clip ${toneOf(page.fate)}`} title={fateOf(page)}>
            {fateOf(page)}
          </span>
        </div>
      ))}
      {reach.pages.length < reach.reached && (
        <p className="mute">and {count(reach.reached - reach.pages.length, "more page")}</p>
      )}
      {reach.nearly.length > 0 && (
        <>
          <h3>Nearly: pages one term short</h3>
          {reach.nearly.map((miss) => (
            <div className="reach-row" key={miss.path}>
              <span className="clip" title={`${miss.title} ${miss.path}`}>
                {miss.title} <span className="mono mute">{miss.path}</span>
              </span>
              <span className="tag lose clip mono">{miss.term}</span>
            </div>
          ))}
        </>
      )}
    </aside>
  );
}

/** Where the rule wins but nothing of it is to be seen, and the templates that would change that. */
function NoPlace({
  mine,
  uses,
  onUse,
}: {
  mine: Shapes["TargetMeasures"];
  uses: boolean;
  onUse: (template: string) => void;
}) {
  const { bySlug } = usePieces();
  const linkTo = useLinkTo();
  return (
    <div className="note-box">
      <b>No place on {count(mine.unplaced, "page")}.</b> The template of these pages has no{" "}
      {targetName(mine.target).toLowerCase()}, so nothing shows there.
      {mine.templates.length === 0 && " No template has one yet; give it to one under Pieces."}
      {mine.templates.length > 0 && (
        <div className="row" style={{ flexWrap: "wrap", marginTop: 6 }}>
          <span className="mute">Has one:</span>
          {mine.templates.map((slug) =>
            uses ? (
              <Link key={slug} to={linkTo(`pieces/${slug}`)}>
                {bySlug.get(slug)?.name ?? slug}
              </Link>
            ) : (
              <button key={slug} type="button" className="token add" onClick={() => onUse(slug)}>
                + use {bySlug.get(slug)?.name ?? slug} too
              </button>
            ),
          )}
        </div>
      )}
    </div>
  );
}

function sinceSaved(reach: Shapes["ReachInfo"]): string {
  return [reach.new ? `+${reach.new}` : "", reach.gone ? `−${reach.gone}` : ""].filter(Boolean).join(" ");
}

function toneOf(state: string): string {
  if (state === "wins" || state === "adds") return "win";
  return state === "excluded" || state === "gone" ? "against" : "lose";
}

function fateOf(page: Shapes["ReachPage"]): string {
  switch (page.fate) {
    case "wins":
      return "wins";
    case "adds":
      return "adds";
    case "unplaced":
      return "no place here";
    case "outranked":
      return `outranked by ${page.by} on ${page.on}`;
    case "cleared":
      return `dropped by ${page.by}`;
    case "locked":
      return "locked here";
    case "excluded":
      return `excluded: ${page.by}`;
    case "gone":
      return "gone since saved";
    default:
      return "reached";
  }
}
