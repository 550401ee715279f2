import Button from "@mui/material/Button";
import { useId, useState } from "react";
import { type Differing, differingParts, merged, partName, partText, type Side } from "./merge";
import type { Editing } from "./useDraft";

interface Props<T extends { name: string }> {
  editing: Editing<T>;
  /** What two people edited: `rule`, `piece`. */
  what: string;
  onSaved: () => void;
}

const WHO = { mine: "only you changed it", theirs: "only they changed it", both: "both changed it" };

/** What two people made of one thing at once, side by side, and the choice between them part by part. */
export function ConflictBox<T extends { name: string }>({ editing, what, onSaved }: Props<T>) {
  const { conflict, tree, base } = editing;
  const [chosen, setChosen] = useState<Record<string, Side>>({});
  if (!conflict) return null;
  const parts = differingParts(base, tree, conflict.theirs);
  const sideOf = (part: Differing): Side =>
    chosen[keyOf(part)] ?? (part.changedBy === "theirs" ? "theirs" : "mine");
  const theirs = parts.filter((part) => sideOf(part) === "theirs");
  const save = async () => {
    if (await editing.save(conflict.version, merged(tree, theirs))) onSaved();
  };
  return (
    <section className="note-box" role="alert" aria-label="Changed meanwhile">
      <b>Somebody saved this {what} while you edited it.</b> Nothing is lost:{" "}
      {parts.length === 0 ? "both say the same." : "choose in each part that differs."}
      {parts.map((part) => (
        <PartChoice
          key={keyOf(part)}
          part={part}
          side={sideOf(part)}
          onChoose={(side) => setChosen({ ...chosen, [keyOf(part)]: side })}
        />
      ))}
      <div className="row">
        <Button variant="contained" onClick={save}>
          {saveWords(theirs.length, parts.length)}
        </Button>
        <Button variant="outlined" onClick={editing.takeTheirs}>
          Take theirs, drop mine
        </Button>
      </div>
    </section>
  );
}

const keyOf = (part: Differing) => JSON.stringify(part.path);

function saveWords(theirs: number, all: number): string {
  if (theirs === 0) return "Save mine over it";
  return theirs === all ? "Save it as theirs" : "Save both together";
}

interface ChoiceProps {
  part: Differing;
  side: Side;
  onChoose: (side: Side) => void;
}

/** One part as both have it, and which of them stays. */
function PartChoice({ part, side, onChoose }: ChoiceProps) {
  const group = useId();
  return (
    <fieldset className="part-choice">
      <legend>
        <b>{partName(part.path)}</b> <span className="mute">{WHO[part.changedBy]}</span>
      </legend>
      {(["mine", "theirs"] as const).map((one) => (
        <label key={one} className={one === side ? "on" : ""}>
          <input type="radio" name={group} checked={one === side} onChange={() => onChoose(one)} />
          {one === "mine" ? "Yours" : "Theirs"}
          <pre>{partText(part[one])}</pre>
        </label>
      ))}
    </fieldset>
  );
}
