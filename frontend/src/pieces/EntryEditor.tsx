import Button from "@mui/material/Button";
import Collapse from "@mui/material/Collapse";
import Switch from "@mui/material/Switch";
import { useId, useState } from "react";
import type { Problem, Shapes } from "../api/client";
import { ConditionSentence } from "../conditions/ConditionSentence";
import { CONDITION_PARTS, withTexts } from "../conditions/condition";
import { FieldError } from "../conditions/FieldError";
import { InForce } from "../conditions/InForce";
import { TextPart } from "../conditions/TextPart";
import { PlainField } from "../parts/controls";
import { PieceName } from "../parts/PieceName";
import { isFirst, isLast, SignButtons } from "../parts/SignButtons";
import { count, figure } from "../parts/words";

export type EntryTree = Shapes["EntryTree"];

interface Props {
  entry: EntryTree;
  place: number;
  last: boolean;
  /** How far it reaches; undefined while that is not known. */
  reach: Shapes["EntryReachInfo"] | undefined;
  problemAt: (pointer: string) => Problem | undefined;
  onChange: (change: (entry: EntryTree) => EntryTree) => void;
  onMove: (to: number) => void;
  onRemove: () => void;
}

const LABELS = ["On pages", "But not on", "Visitors", "Not visitors"];

/** One widget of a sidebar: whether it is on, why it is there, and its whole condition. */
export function EntryEditor({ entry, place, last, reach, problemAt, onChange, onMove, onRemove }: Props) {
  const [open, setOpen] = useState(false);
  const id = useId();
  const name = `entry ${place + 1}`;
  const condition = entry.condition ?? {};
  const on = entry.on ?? true;
  const texts = CONDITION_PARTS.map((part) => part.read(condition));
  const wrong = CONDITION_PARTS.map((part) => problemAt(part.pointer)).find(Boolean) ?? problemAt("/piece");
  return (
    <section className="item-row" aria-label={`Entry ${place + 1}`}>
      <div className="row">
        <span className="grow">
          <PieceName slug={entry.piece} />
        </span>
        <Switch
          size="small"
          checked={on}
          slotProps={{ input: { "aria-label": `${name} is on` } }}
          onChange={(event) => onChange((one) => ({ ...one, on: event.target.checked }))}
        />
        <SignButtons
          buttons={[
            [`Move ${name} up`, "↑", isFirst(place === 0), () => onMove(place - 1)],
            [`Move ${name} down`, "↓", isLast(last), () => onMove(place + 1)],
            [`Take away ${name}`, "×", false, onRemove],
          ]}
        />
      </div>
      <PlainField
        className="note"
        label={`Why ${name} is there`}
        placeholder="Why is it there?"
        value={entry.note ?? ""}
        onChange={(note) => onChange((one) => ({ ...one, note }))}
      />
      <div className="row">
        <span className="grow mute" role="status" aria-label={`Reach of ${name}`}>
          {!on && "Off: shows nowhere."}
          {on &&
            reach &&
            `Matches ${count(reach.matched, "page")}, shows on ${figure(reach.shown)} through this lens.`}
        </span>
        <Button
          variant="text"
          aria-expanded={open}
          aria-controls={id}
          aria-label={`Where and when: ${name}`}
          onClick={() => setOpen(!open)}
        >
          Where and when
        </Button>
      </div>
      {!open && texts.some(Boolean) && <p className="mono mute entry-said">{said(texts)}</p>}
      {!open && <FieldError problem={wrong} />}
      <Collapse in={open} id={id} unmountOnExit>
        <div className="sentence small">
          <ConditionSentence
            emptyIsAll
            condition={condition}
            onChange={(changed) =>
              onChange((one) => ({ ...one, condition: withTexts(one.condition, changed) }))
            }
          />
          <InForce
            schedule={condition.schedule}
            problemAt={(pointer) => problemAt(`/condition/schedule${pointer}`)}
            onChange={(schedule) =>
              onChange((one) => ({ ...one, condition: { ...one.condition, schedule } }))
            }
          />
        </div>
        <div className="texts">
          {CONDITION_PARTS.map((part, at) => (
            <TextPart
              key={part.key}
              part={part}
              label={LABELS[at] as string}
              name={`${LABELS[at]} of ${name}, as text`}
              condition={condition}
              onChange={(_, text) =>
                onChange((one) => ({ ...one, condition: withTexts(one.condition, [[part, text]]) }))
              }
            />
          ))}
        </div>
      </Collapse>
    </section>
  );
}

/** A condition's queries in one line: what is reached, then what is taken out. */
function said([include, exclude, visitors, others]: string[]): string {
  const parts = [include || "every page", exclude && `not ${exclude}`, visitors, others && `not ${others}`];
  return parts.filter(Boolean).join(" · ");
}
