import Button from "@mui/material/Button";
import Popover from "@mui/material/Popover";
import { useState } from "react";
import type { Shapes } from "../api/client";
import { ChoosePiece } from "../parts/ChoosePiece";
import { PieceName } from "../parts/PieceName";
import { useSite } from "../parts/site";
import { DOES, kindFor, targetName } from "../parts/words";

type Action = Shapes["ActionTree"];

interface Props {
  actions: Action[];
  wins: Map<string, number>;
  reached: number;
  problemAt: (pointer: string) => string | undefined;
  onChange: (actions: Action[]) => void;
}

const ADDING = ["prepend", "append"];

/** What a rule does: a line a target. */
export function Actions({ actions, wins, reached, problemAt, onChange }: Props) {
  const site = useSite();
  const targets = ["template", ...site.slots];
  const decided = new Set(actions.filter((one) => !ADDING.includes(one.do)).map(targetOf));
  const change = (place: number, action: Action) =>
    onChange(actions.map((known, at) => (at === place ? action : known)));
  const free = targets.find((target) => !decided.has(target)) ?? "above-footer";
  return (
    <div>
      {actions.map((action, place) => (
        <Doing
          // biome-ignore lint/suspicious/noArrayIndexKey: an action is its place; a rule may state the same twice
          key={place}
          action={action}
          targets={targets}
          wins={wins.get(targetOf(action))}
          reached={reached}
          problem={problemAt(`/actions/${place}`)}
          onChange={(changed) => change(place, changed)}
          onRemove={() => onChange(actions.filter((_, at) => at !== place))}
        />
      ))}
      <div style={{ borderTop: "1px solid var(--line)", paddingTop: 8 }}>
        <button type="button" className="token add" onClick={() => onChange([...actions, blank(free)])}>
          + something
        </button>
      </div>
    </div>
  );
}

function targetOf(action: Action): string {
  if (action.do === "set") return `setting:${action.setting}`;
  return action.do === "use" ? "template" : (action.slot ?? "");
}

/** An action on a target before its piece is chosen. */
function blank(target: string): Action {
  return target === "template" ? { do: "use" } : { do: "fill", slot: target };
}

interface DoingProps {
  action: Action;
  targets: string[];
  wins: number | undefined;
  reached: number;
  problem: string | undefined;
  onChange: (action: Action) => void;
  onRemove: () => void;
}

function Doing({ action, targets, wins, reached, problem, onChange, onRemove }: DoingProps) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const target = targetOf(action);
  const piece = action.piece ?? action.template;
  if (action.do === "set")
    return (
      <div className="doing">
        <span>{action.setting}</span>
        <span className="mute">set to</span>
        <span className="mono">{String(action.value)}</span>
        <span className="mute">{wins === undefined ? "" : `wins ${wins} of ${reached}`}</span>
        <RemoveAction name={action.setting ?? ""} onRemove={onRemove} />
      </div>
    );
  const kind = ADDING.includes(action.do) ? "widget" : kindFor(target);
  const doings = target === "template" ? ["use"] : ["fill", "empty", "prepend", "append"];
  const setDoing = (doing: Action["do"]) => {
    const keeps = doing !== "empty" && ADDING.includes(doing) === ADDING.includes(action.do) && piece;
    onChange({ do: doing, slot: target, ...(keeps ? { piece } : {}) });
  };
  const choose = (slug: string) => {
    setAnchor(null);
    const { exclusive } = action;
    onChange(
      action.do === "use"
        ? { do: "use", template: slug }
        : { do: action.do, slot: target, piece: slug, ...(exclusive ? { exclusive } : {}) },
    );
  };
  return (
    <>
      <div className="doing">
        <select aria-label="Target" value={target} onChange={(event) => onChange(blank(event.target.value))}>
          {targets.map((name) => (
            <option key={name} value={name}>
              {targetName(name)}
            </option>
          ))}
        </select>
        <select
          aria-label={`What to do with ${targetName(target)}`}
          value={action.do}
          onChange={(event) => setDoing(event.target.value as Action["do"])}
        >
          {doings.map((doing) => (
            <option key={doing} value={doing}>
              {DOES[doing]}
            </option>
          ))}
        </select>
        {action.do === "empty" ? (
          <span />
        ) : (
          <button
            type="button"
            className="choose plain"
            style={{ padding: "4px 6px" }}
            aria-haspopup="dialog"
            aria-label={`Piece for ${targetName(target)}`}
            onClick={(event) => setAnchor(event.currentTarget)}
          >
            {piece ? <PieceName slug={piece} /> : <span className="mute">choose a {kind} …</span>}
          </button>
        )}
        <span className="mute" style={{ whiteSpace: "nowrap" }}>
          {wins === undefined
            ? ""
            : `${ADDING.includes(action.do) ? "added on" : "wins"} ${wins} of ${reached}`}
        </span>
        <RemoveAction name={targetName(target)} onRemove={onRemove} />
      </div>
      {problem && (
        <p className="field-error" role="alert">
          {problem}
        </p>
      )}
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: "bottom", horizontal: "left" }}
      >
        <div className="popover" role="dialog" aria-label={`Choose a ${kind}`}>
          <ChoosePiece kinds={[kind]} label={`Choose a ${kind}`} onChoose={choose} />
        </div>
      </Popover>
    </>
  );
}

function RemoveAction({ name, onRemove }: { name: string; onRemove: () => void }) {
  return (
    <Button
      variant="text"
      color="inherit"
      aria-label={`Take away ${name}`}
      onClick={onRemove}
      style={{ minWidth: 28 }}
    >
      ×
    </Button>
  );
}
