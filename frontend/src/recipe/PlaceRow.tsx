import Button from "@mui/material/Button";
import { useState } from "react";
import { Chooser, LabelledField } from "../parts/controls";
import { ATS, OF, type Place, valuesOf, valuesText } from "./places";

interface Props {
  /** What it is called to those who hear it: the fact and its number. */
  name: string;
  fact: string;
  number: number;
  last: boolean;
  place: Place;
  /** On how many of the pages that were tried it tells the fact. */
  tells: number | undefined;
  problem: string | undefined;
  onChange: (place: Place) => void;
  onMove: (by: number) => void;
  onRemove: () => void;
}

/** One place in which a fact is looked for, and what is taken of what stands there. */
export function PlaceRow({
  name,
  fact,
  number,
  last,
  place,
  tells,
  problem,
  onChange,
  onMove,
  onRemove,
}: Props) {
  const more = Boolean(place.attribute || place.take || place.form || Object.keys(place.values ?? {}).length);
  const [open, setOpen] = useState(more);
  const asks = OF[place.at];
  return (
    <li className="fact-place">
      <div className="fact-place-row">
        <span className="mute number" aria-hidden="true">
          {number + 1}
        </span>
        <Chooser
          label={`Where ${name} looks`}
          value={place.at}
          options={ATS}
          onChange={(at) => onChange({ ...place, at, of: OF[at] === undefined ? "" : place.of })}
        />
        {asks === undefined ? (
          <span />
        ) : (
          <LabelledField
            mono
            label={`Of what ${name} looks`}
            placeholder={asks}
            value={place.of ?? ""}
            onChange={(of) => onChange({ ...place, of })}
          />
        )}
        <span className="mute tells">
          {tells === undefined ? "" : tells === 0 ? "tells none" : `tells ${tells}`}
        </span>
        <span className="row tight">
          <Button
            variant="text"
            aria-expanded={open}
            aria-label={`Take … at ${name}`}
            onClick={() => setOpen(!open)}
          >
            Take …
          </Button>
          <Button
            variant="text"
            color="inherit"
            disabled={number === 0}
            title={number === 0 ? "It is looked at first" : ""}
            aria-label={`Look earlier at ${name}`}
            onClick={() => onMove(-1)}
          >
            ↑
          </Button>
          <Button
            variant="text"
            color="inherit"
            disabled={last}
            title={last ? "It is looked at last" : ""}
            aria-label={`Look later at ${name}`}
            onClick={() => onMove(1)}
          >
            ↓
          </Button>
          <Button variant="text" color="inherit" aria-label={`Do not look at ${name}`} onClick={onRemove}>
            ×
          </Button>
        </span>
      </div>
      {open && (
        <div className="fact-take">
          {place.at === "element" && (
            <LabelledField
              mono
              label={`Attribute of ${name}`}
              placeholder="its text, or this attribute"
              value={place.attribute ?? ""}
              onChange={(attribute) => onChange({ ...place, attribute })}
            />
          )}
          <LabelledField
            mono
            label={`Pattern of ${name}`}
            placeholder="all of it, or the group of this pattern: ^By (.+)$"
            value={place.take ?? ""}
            onChange={(take) => onChange({ ...place, take })}
          />
          {fact === "published" && (
            <LabelledField
              mono
              label={`How the date is written at ${name}`}
              placeholder="2026-03-01, or %d %B %Y"
              value={place.form ?? ""}
              onChange={(form) => onChange({ ...place, form })}
            />
          )}
          <ValuesField
            name={name}
            values={place.values}
            onChange={(values) => onChange({ ...place, values })}
          />
        </div>
      )}
      {problem && (
        <p className="field-error" role="alert">
          {problem}
        </p>
      )}
    </li>
  );
}

interface ValuesProps {
  name: string;
  values: Place["values"];
  onChange: (values: Record<string, string>) => void;
}

/** What values mean, typed as pairs; what is typed stays as it is while a pair is not whole. */
function ValuesField({ name, values, onChange }: ValuesProps) {
  const [text, setText] = useState(valuesText(values));
  return (
    <LabelledField
      mono
      label={`What values mean at ${name}`}
      placeholder="as they are, or: archive = listing, blog = listing"
      value={text}
      onChange={(typed) => {
        setText(typed);
        onChange(valuesOf(typed));
      }}
    />
  );
}
