import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { Fragment, type ReactNode } from "react";
import { Link } from "react-router";
import type { Shapes } from "../api/client";
import { traceQuery } from "../api/queries";
import { KeepSo } from "../guards/KeepSo";
import { PieceName } from "../parts/PieceName";
import { useLens, useLinkTo, usePieces, useSite } from "../parts/site";
import {
  capital,
  count,
  outcomeText,
  specificityText,
  stateName,
  targetName,
  valueText,
  when,
} from "../parts/words";
import { AddHere } from "./AddHere";
import { Looks } from "./Looks";
import { PinBox } from "./PinBox";
import { ReachHere } from "./ReachHere";
import { RuleHere } from "./RuleHere";
import type { Pins } from "./usePins";
import { VaryHere } from "./VaryHere";
import { WhyNot } from "./WhyNot";
import "./trace.css";

interface Props {
  path: string;
  target: string;
  pins: Pins;
  onClose: () => void;
  /** What else can be done from here in the view that it stands in. */
  children?: ReactNode;
}

/** Why one target of one page comes to what it does. */
export function TracePanel({ path, target, pins, onClose, children }: Props) {
  const site = useSite();
  const linkTo = useLinkTo();
  const lens = useLens();
  const trace = useQuery(traceQuery(site.slug, path, target, lens));
  // The account of another cell is none of this one, not even for a moment.
  const found = trace.data?.path === path && trace.data.target === target ? trace.data : undefined;
  return (
    <aside
      className="side"
      aria-label={`Why: ${targetName(target)} on ${path}`}
      aria-busy={trace.isPlaceholderData}
    >
      <div className="row">
        <span className="mute grow">Why</span>
        <Button variant="text" color="inherit" onClick={onClose} aria-label="Close the trace">
          Close
        </Button>
      </div>
      <h2>
        {targetName(target)} on <span className="mono">{path}</span>
      </h2>
      {trace.isError && <p className="field-error">{trace.error.message}</p>}
      {found && (
        <>
          <OutcomeBox found={found} />
          <h3>
            {found.entries.some(applies)
              ? "Everything that wants this here, strongest first"
              : "No rule has anything to say about this here"}
          </h3>
          {found.entries.filter(applies).map((entry, number) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: a rule may act twice on a target; places tell them apart
            <Rung key={`${entry.rule} ${number}`} of={found} entry={entry} number={number} />
          ))}
          <Others of={found} />
          <h3>On this page</h3>
          {!trace.isPlaceholderData && <PinBox key={`pin ${path} ${target}`} found={found} pins={pins} />}
          <div className="row" style={{ flexWrap: "wrap", marginTop: 8 }}>
            {acting(found)[0] && (
              <Button
                variant="outlined"
                component={Link}
                to={linkTo(`rules/${acting(found)[0]?.rule}`, { target, test: path })}
              >
                Open the rule
              </Button>
            )}
            {takesWidgets(found) && (
              <AddHere path={path} target={target} standing={found.outcome.pieces} pins={pins} />
            )}
            {shared(found) && <VaryHere slug={shared(found) as string} path={path} target={target} />}
            {!found.pin.locked && <ReachHere path={path} acting={acting(found).map((entry) => entry.rule)} />}
            <KeepSo path={path} target={target} outcome={found.outcome} />
            <Button variant="outlined" component={Link} to={linkTo("preview", { path })}>
              Look at the page
            </Button>
          </div>
          {children}
          <WhyNot key={`else ${path} ${target}`} path={path} target={target} pins={pins} />
          <Looks path={path} />
        </>
      )}
    </aside>
  );
}

const isSlot = (found: Shapes["TraceInfo"]) =>
  !found.target.startsWith("setting:") && found.target !== "template";

/** Whether a widget can be added: in a slot that is not another system's. */
const takesWidgets = (found: Shapes["TraceInfo"]) => isSlot(found) && !found.pin.locked;

/** The rules that make the target what it is here, those that add to it too; strongest first. */
const acting = (found: Shapes["TraceInfo"]) =>
  found.entries.filter((entry) => entry.state === "won" || entry.state === "added");

/** The piece that fills the target here, of which this page could have a copy of its own. */
const shared = (found: Shapes["TraceInfo"]) =>
  found.target.startsWith("setting:") || found.pin.locked || found.outcome.by === null
    ? undefined
    : found.entries.find((entry) => entry.state === "won")?.action[
        found.target === "template" ? "template" : "piece"
      ];

function OutcomeBox({ found }: { found: Shapes["TraceInfo"] }) {
  const { bySlug } = usePieces();
  const linkTo = useLinkTo();
  const { outcome } = found;
  const colour = bySlug.get(outcome.pieces[0] ?? "")?.colour;
  const adding = [...new Set(acting(found).flatMap((one) => (one.state === "added" ? [one.name] : [])))];
  return (
    <div className="outcome" style={colour ? ({ "--s": colour } as React.CSSProperties) : undefined}>
      <b>
        {outcome.state === "filled" && outcome.pieces.length > 0
          ? outcome.pieces.map((slug, number) => (
              <Fragment key={slug}>
                {number > 0 && " + "}
                <Link to={linkTo(`pieces/${slug}`)} title="Open the piece" style={{ color: "inherit" }}>
                  {bySlug.get(slug)?.name ?? slug}
                </Link>
              </Fragment>
            ))
          : capital(outcomeText(outcome, (slug) => bySlug.get(slug)?.name))}
      </b>
      {found.by && (
        <>
          {" by "}
          <b>{found.by}</b>
        </>
      )}
      {adding.length > 0 && (
        <>
          {found.by ? ", added to by " : ", added by "}
          <b>{adding.join(", ")}</b>
        </>
      )}
      <div className="mute">
        {found.decisive && found.runner_up ? (
          <>
            decided on {found.decisive} over <i>{found.runner_up}</i>
          </>
        ) : found.by ? (
          found.alone ? (
            "nothing else reaches this page"
          ) : (
            "no other rule that reaches this page is in force here now"
          )
        ) : found.default_template && found.outcome.pieces.length ? (
          "the site's default, which no rule touches here"
        ) : found.outcome.state === "locked" ? (
          "another system owns this slot here; no rule changes it"
        ) : adding.length > 0 ? (
          found.in_place && found.seated ? (
            "no rule fills it: whatever the page has there stays, with this added to it"
          ) : (
            "no rule fills it"
          )
        ) : (
          "no rule decides this here"
        )}
      </div>
      <Turned turn={found.last} lead="since" tail="before that" />
      <Turned turn={found.next} lead="until" tail="then" />
      {!found.seated && found.outcome.pieces.length > 0 && (
        <div style={{ color: "var(--warn)" }}>Not to be seen: {nowhere(found)}.</div>
      )}
    </div>
  );
}

/** Why what a target comes to has no place on the page. */
function nowhere({ in_place, target }: Shapes["TraceInfo"]): string {
  if (!in_place) return "the template of this page has no place for it";
  return target === "template"
    ? "this page is drawn in its own HTML, and uses no template"
    : "this page is drawn in its own HTML, where this slot is bound to nothing";
}

/** When it changes by itself, and what there is on the other side of that moment. */
function Turned({ turn, lead, tail }: { turn: Shapes["TurnInfo"] | null; lead: string; tail: string }) {
  const { bySlug } = usePieces();
  if (!turn) return null;
  const other = turn.inside ? "other widgets" : outcomeText(turn.outcome, (slug) => bySlug.get(slug)?.name);
  return (
    <div className="mute">
      {lead} {when(turn.at)}, {tail} {other}
    </div>
  );
}

/** Whether a rule has to do with this page at all: it is on, and its include reaches it. */
const applies = (entry: Shapes["TraceEntry"]) => entry.state !== "not-included" && entry.state !== "off";

/** The rules that do not apply, folded and counted. */
function Others({ of }: { of: Shapes["TraceInfo"] }) {
  const entries = of.entries.filter((entry) => !applies(entry));
  if (entries.length === 0) return null;
  return (
    <details className="others">
      <summary>{count(entries.length, "rule does", "rules do")} not apply to this page</summary>
      {entries.map((entry, number) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a rule may act twice on a target; places tell them apart
        <Rung key={`${entry.rule} ${number}`} of={of} entry={entry} number={number} />
      ))}
    </details>
  );
}

interface RungProps {
  /** The account that it is a part of. */
  of: Shapes["TraceInfo"];
  entry: Shapes["TraceEntry"];
  number: number;
}

function Rung({ of, entry, number }: RungProps) {
  const linkTo = useLinkTo();
  const on = entry.state === "won" ? of.decisive : entry.on;
  return (
    <div className="rung">
      <span className="n">{entry.strength ? number + 1 : "–"}</span>
      <div style={{ minWidth: 0 }}>
        <div className="row">
          <Link
            className="grow"
            to={linkTo(`rules/${entry.rule}`, { target: of.target, test: of.path })}
            style={{ color: "inherit" }}
          >
            <b>{entry.name}</b>
          </Link>
          <span className="state">{stateName(entry.state)}</span>
          <RuleHere id={entry.rule} name={entry.name} />
        </div>
        <div className="mute row">
          <Doing action={entry.action} />
        </div>
        {entry.strength ? (
          <div className="key">
            <span className={on === "priority" ? "decisive" : ""}>priority {entry.strength.priority}</span>
            <span
              className={on === "specificity" ? "decisive" : ""}
              title="exact · narrow · broad · visitors"
            >
              {specificityText(entry.strength.specificity)}
            </span>
            <span className={on === "order" ? "decisive" : ""}>no. {entry.strength.position}</span>
          </div>
        ) : (
          <div className="mute">{reason(entry)}</div>
        )}
      </div>
    </div>
  );
}

function Doing({ action }: { action: Shapes["ActionTree"] }) {
  const linkTo = useLinkTo();
  const piece = action.piece ?? action.template;
  if (action.do === "set")
    return (
      <>
        sets {action.setting} to {valueText(action.value)}
      </>
    );
  if (!piece) return <>leaves it empty</>;
  const verb = { fill: "fills with", prepend: "adds before:", append: "adds after:", use: "uses", empty: "" }[
    action.do
  ];
  return (
    <>
      {verb}{" "}
      <Link
        className="clip"
        to={linkTo(`pieces/${piece}`)}
        title="Open the piece"
        style={{ color: "inherit" }}
      >
        <PieceName slug={piece} />
      </Link>
    </>
  );
}

/** Why a rule does not contend here, in words. */
function reason(entry: Shapes["TraceEntry"]): ReactNode {
  switch (entry.state) {
    case "off":
      return "switched off";
    case "not-included":
      return entry.include ? (
        <>
          page is outside <span className="mono">{entry.include}</span>
        </>
      ) : (
        "includes no page"
      );
    case "excluded":
      return (
        <>
          excluded by <span className="mono">{entry.clause}</span>
        </>
      );
    case "time":
      return entry.next_start ? `not now; next ${when(entry.next_start)}` : "not now, and never again";
    case "visitor":
      return entry.clause ? (
        <>
          keeps out <span className="mono">{entry.clause}</span>
        </>
      ) : (
        "only for other visitors"
      );
    default:
      return stateName(entry.state);
  }
}
