import IconButton from "@mui/material/IconButton";
import { Chooser } from "../parts/controls";

interface Props {
  label: string;
  value: string;
  palette: string[];
  onChange: (value: string) => void;
}

const OWN = "own";
const written = (value: string) => value.startsWith("#");

/** A colour: one of the dress by its name, or one that is written out. */
export function ColourField({ label, value, palette, onChange }: Props) {
  const options = [
    ["", "as around it"] as const,
    ...palette.map((name) => [name, name] as const),
    [OWN, "one of its own"] as const,
  ];
  return (
    <span className="row grow">
      <Chooser
        label={label}
        value={written(value) ? OWN : value}
        options={options}
        sx={{ flex: 1 }}
        onChange={(next) => onChange(next === OWN ? "#1c4e80" : next)}
      />
      {written(value) && (
        <input
          type="color"
          className="colour-well"
          aria-label={`${label}, written out`}
          value={value}
          onChange={(event) => onChange(event.target.value)}
        />
      )}
      {value && (
        <IconButton size="small" aria-label={`No ${label}`} onClick={() => onChange("")}>
          ×
        </IconButton>
      )}
    </span>
  );
}
