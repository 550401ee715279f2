import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { useSite } from "../parts/site";
import type { PartProps } from "./PartProps";
import { withContent } from "./tree";

/** The rows of areas that a text states. */
const rowsOf = (text: string) =>
  text
    .split("\n")
    .map((row) => row.trim().replace(/\s+/g, " "))
    .filter(Boolean);

/** A template's grid, in the notation of CSS Grid, and the slots that its pages have. */
export function GridFields({ tree, problemAt, onChange }: PartProps) {
  const site = useSite();
  const areas = Array.isArray(tree.content?.areas) ? (tree.content.areas as string[]) : [];
  // A line that is just begun is blank: it is shown, but no area yet.
  const [typed, setTyped] = useState(areas.join("\n"));
  const shown = rowsOf(typed).join("\n") === areas.join("\n") ? typed : areas.join("\n");
  const slots = tree.slots ?? [];
  const toggle = (slot: string) =>
    onChange({
      ...tree,
      slots: slots.includes(slot)
        ? slots.filter((one) => one !== slot)
        : site.slots.filter((one) => one === slot || slots.includes(one)),
    });
  return (
    <>
      <TextField
        fullWidth
        multiline
        label="Areas, a row a line (CSS Grid template areas)"
        minRows={Math.max(4, areas.length + 1)}
        value={shown}
        slotProps={{ htmlInput: { className: "mono", "aria-label": "Areas" } }}
        onChange={(event) => {
          setTyped(event.target.value);
          onChange(withContent(tree, { areas: rowsOf(event.target.value) }));
        }}
      />
      {problemAt("/content/areas") && <p className="field-error">{problemAt("/content/areas")}</p>}
      <TextField
        fullWidth
        label="Columns"
        sx={{ marginTop: 1.5 }}
        value={String(tree.content?.columns ?? "")}
        slotProps={{ htmlInput: { className: "mono" } }}
        onChange={(event) => onChange(withContent(tree, { columns: event.target.value || undefined }))}
      />
      {problemAt("/content/columns") && <p className="field-error">{problemAt("/content/columns")}</p>}
      <fieldset
        style={{ border: 0, padding: 0, margin: "10px 0", display: "grid", gridTemplateColumns: "1fr 1fr" }}
      >
        <legend className="mute">Slots that its pages have</legend>
        {site.slots.map((slot) => (
          <FormControlLabel
            key={slot}
            label={slot}
            control={<Checkbox checked={slots.includes(slot)} onChange={() => toggle(slot)} />}
          />
        ))}
      </fieldset>
    </>
  );
}
