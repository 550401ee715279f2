import Button from "@mui/material/Button";
import { LabelledField } from "../parts/controls";

interface Props {
  fields: [string, string][];
  onChange: (fields: [string, string][]) => void;
}

/** The free fields of a page: each a name and a text. */
export function FieldsField({ fields, onChange }: Props) {
  const change = (place: number, field: [string, string]) =>
    onChange(fields.map((known, at) => (at === place ? field : known)));
  return (
    <>
      {fields.map(([name, text], place) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a field is its place while its name is typed
        <div className="row" key={place}>
          <LabelledField
            mono
            label={`Name of field ${place + 1}`}
            placeholder="name"
            value={name}
            onChange={(next) => change(place, [next, text])}
          />
          <LabelledField
            label={`Text of field ${place + 1}`}
            placeholder="text"
            value={text}
            onChange={(next) => change(place, [name, next])}
          />
          <Button
            variant="text"
            aria-label={`Take field ${place + 1} away`}
            sx={{ minWidth: 28 }}
            onClick={() => onChange(fields.filter((_, at) => at !== place))}
          >
            ×
          </Button>
        </div>
      ))}
      <Button variant="text" onClick={() => onChange([...fields, ["", ""]])}>
        + field
      </Button>
    </>
  );
}
