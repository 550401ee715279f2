import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Popover from "@mui/material/Popover";
import { useState } from "react";
import { Link } from "react-router";
import type { Shapes } from "../api/client";
import { ChoosePiece } from "../parts/ChoosePiece";
import { useLinkTo, usePieces } from "../parts/site";
import { kindFor, settingOf, targetName } from "../parts/words";
import { pinAction, pinnedText } from "./newRule";
import { PinSetting } from "./PinSetting";
import type { Pins } from "./usePins";

interface Props {
  found: Shapes["TraceInfo"];
  pins: Pins;
}

/** What is pinned here, changing it and taking it off; and what stands in the way where a pin could not show. */
export function PinBox({ found, pins }: Props) {
  const { bySlug } = usePieces();
  const linkTo = useLinkTo();
  const [button, setButton] = useState<HTMLButtonElement | null>(null);
  const [wanted, setWanted] = useState(false);
  const { pin } = found;
  const { path, target } = found;
  const kind = kindFor(target);
  if (settingOf(target)) return <PinSetting found={found} pins={pins} />;
  if (pin.locked) {
    return (
      <p className="mute">
        {pin.owner || "Another system"} owns this slot here, so nothing can be pinned.
        {pin.why && ` ${pin.why}`}
      </p>
    );
  }
  const nameOf = (slug: string) => bySlug.get(slug)?.name ?? slug;
  const hindered = pin.deciders.length > 0;
  // Where the usual priority wins for nobody, only the higher one is offered; where it does for some, that is asked.
  const raised = hindered && (wanted || !pin.wins) && pin.priority !== null;
  const hopeless = !pin.wins && pin.priority === null;
  const choose = (slug: string | null, priority: number | null) =>
    pins.pin(path, pinAction(target, slug === null ? null : (bySlug.get(slug) ?? null)), priority);
  const emptyAt = pin.additions.length ? pin.clearing : raised ? pin.priority : 0;
  return (
    <>
      {pin.action && (
        <p>
          Pinned here: <b>{pinnedText(pin.action, nameOf)}</b>
        </p>
      )}
      {hindered && (
        <div className="note-box">
          <b>
            {pin.wins
              ? "A pin would not decide this for everyone."
              : "A pin would not decide this by itself."}
          </b>
          <Obstacles obstacles={pin.deciders} verb="is stronger" />
          {pin.priority === null && " Nothing is above its priority, so change that rule instead."}
        </div>
      )}
      {!found.seated && (
        <p className="note-box">
          <b>No place for it on this page.</b>{" "}
          {found.in_place ? (
            <>
              It is drawn in its own HTML. <Link to={linkTo("site/bindings")}>Say where slots are</Link>
            </>
          ) : (
            `Its template has no ${targetName(target).toLowerCase()}. `
          )}
          {!found.in_place && found.templates.length > 0 && (
            <>
              One that has it:{" "}
              {found.templates.map((slug) => (
                <Link
                  key={slug}
                  to={linkTo("pages", { path, target: "template" })}
                  style={{ marginRight: 8 }}
                >
                  {nameOf(slug)}
                </Link>
              ))}
            </>
          )}
        </p>
      )}
      <div className="row" style={{ flexWrap: "wrap" }}>
        {!hopeless && (
          <Button ref={setButton} variant="outlined" onClick={() => pins.setPinning(true)}>
            {pin.action ? "Change the pin" : `Pin a ${kind}`}
            {hindered && !pin.wins ? ` at priority ${pin.priority}` : ""}
          </Button>
        )}
        {pin.rule !== null && (
          <Button variant="outlined" onClick={() => pins.unpin(path, target)}>
            Take the pin off
          </Button>
        )}
      </div>
      <Popover
        open={pins.pinning && button !== null}
        anchorEl={button}
        onClose={() => pins.setPinning(false)}
        anchorOrigin={{ vertical: "bottom", horizontal: "left" }}
      >
        <div className="popover" role="dialog" aria-label={`Pin on ${path}`}>
          <p className="mute" style={{ marginBottom: 8 }}>
            For this page alone{raised ? `, at priority ${pin.priority}` : ""}. A rule of higher priority
            still overrules it.
          </p>
          {hindered && pin.wins && pin.priority !== null && (
            <FormControlLabel
              label={`For everyone: at priority ${pin.priority}`}
              control={<Checkbox checked={wanted} onChange={(event) => setWanted(event.target.checked)} />}
            />
          )}
          <ChoosePiece
            kinds={[kind]}
            label={`Piece for ${targetName(target)}`}
            current={found.outcome.pieces[0]}
            onChoose={(slug) => choose(slug, raised ? pin.priority : null)}
          />
          {target !== "template" && (
            <>
              {pin.additions.length > 0 && (
                <Obstacles obstacles={pin.additions} verb="would still be added" nameOf={nameOf} />
              )}
              {emptyAt === null ? (
                <p className="mute">It cannot be left empty by a pin: nothing is above that priority.</p>
              ) : (
                <Button variant="text" onClick={() => choose(null, emptyAt || null)}>
                  Leave it empty here{emptyAt ? `, at priority ${emptyAt}` : ""}
                </Button>
              )}
            </>
          )}
        </div>
      </Popover>
    </>
  );
}

interface ObstaclesProps {
  obstacles: Shapes["ObstacleInfo"][];
  verb: string;
  nameOf?: (slug: string) => string;
}

function Obstacles({ obstacles, verb, nameOf }: ObstaclesProps) {
  const linkTo = useLinkTo();
  return (
    <ul className="plain-list">
      {obstacles.map((one) => (
        <li key={`${one.rule} ${one.action.piece}`}>
          {nameOf && one.action.piece && <b>{nameOf(one.action.piece)} by </b>}
          <Link to={linkTo(`rules/${one.rule}`)}>{one.name}</Link> {verb}, on {one.on}, for {one.words}.
        </li>
      ))}
    </ul>
  );
}
