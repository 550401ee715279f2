import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Segments } from "../parts/controls";
import { useSite } from "../parts/site";
import { GridDraw } from "./GridDraw";
import { namesIn, readGrid, writeGrid } from "./gridTree";
import type { PartProps } from "./PartProps";
import { withContent } from "./tree";

/** The rows of areas that a text states. */
const rowsOf = (text: string) =>
  text
    .split("\n")
    .map((row) => row.trim().replace(/\s+/g, " "))
    .filter(Boolean);

const WIDTHS = [
  ["desktop", "Desktop"],
  ["tablet", "Tablet"],
  ["phone", "Phone"],
] as const;
type Width = (typeof WIDTHS)[number][0];
type Stated = { areas?: string[]; columns?: string };

/** A template's grid at three widths, drawn and in the notation of CSS Grid, and the slots that its pages have. */
export function GridFields({ tree, problemAt, onChange }: PartProps) {
  const site = useSite();
  const [width, setWidth] = useState<Width>("desktop");
  const content = (tree.content ?? {}) as Stated & Record<string, unknown>;
  const stated = (width === "desktop" ? content : (content[width] ?? {})) as Stated;
  const slots = tree.slots ?? [];
  const areas = Array.isArray(stated.areas) ? stated.areas : [];
  // A line that is just begun is blank: it is shown, but no area yet.
  const [typed, setTyped] = useState(areas.join("\n"));
  const shown = rowsOf(typed).join("\n") === areas.join("\n") ? typed : areas.join("\n");
  const state = (next: Stated, names: string[]) => {
    const placed = names.filter((name) => name !== "content" && name !== "." && !slots.includes(name));
    const changed =
      width === "desktop" ? next : { [width]: next.areas?.length ? { ...stated, ...next } : undefined };
    const made = withContent(tree, changed);
    onChange(placed.length ? { ...made, slots: [...slots, ...placed] } : made);
  };
  const toggle = (slot: string) =>
    onChange({
      ...tree,
      slots: slots.includes(slot)
        ? slots.filter((one) => one !== slot)
        : site.slots.filter((one) => one === slot || slots.includes(one)),
    });
  const at = width === "desktop" ? "/content" : `/content/${width}`;
  const own = width === "desktop" || areas.length > 0;
  return (
    <>
      <div className="row" style={{ marginBottom: 8 }}>
        <Segments label="Width of the grid" value={width} options={WIDTHS} onChange={setWidth} />
        {!own && <span className="mute">{width === "phone" ? "Below each other" : "As on a desktop"}</span>}
      </div>
      <GridDraw
        key={width}
        grid={readGrid(own ? stated : content, slots)}
        slots={slots}
        onChange={(grid) => state(writeGrid(grid), namesIn(grid))}
      />
      <TextField
        fullWidth
        multiline
        label="Areas, a row a line (CSS Grid template areas)"
        sx={{ marginTop: 1.5 }}
        minRows={Math.max(4, areas.length + 1)}
        value={shown}
        slotProps={{ htmlInput: { className: "mono", "aria-label": "Areas" } }}
        onChange={(event) => {
          setTyped(event.target.value);
          state({ areas: rowsOf(event.target.value) }, []);
        }}
      />
      {problemAt(`${at}/areas`) && <p className="field-error">{problemAt(`${at}/areas`)}</p>}
      <TextField
        fullWidth
        label="Columns"
        sx={{ marginTop: 1.5 }}
        value={String(stated.columns ?? "")}
        slotProps={{ htmlInput: { className: "mono" } }}
        onChange={(event) => state({ columns: event.target.value || undefined, areas }, [])}
      />
      {problemAt(`${at}/columns`) && <p className="field-error">{problemAt(`${at}/columns`)}</p>}
      <fieldset
        style={{ border: 0, padding: 0, margin: "10px 0", display: "grid", gridTemplateColumns: "1fr 1fr" }}
      >
        <legend className="mute">Slots that its pages have</legend>
        {[...new Set([...site.slots, ...slots])].map((slot) => (
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
