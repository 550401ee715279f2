import IconButton from "@mui/material/IconButton";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import type { PartProps } from "./PartProps";
import { styleOf, withContent } from "./tree";

const ARRANGEMENTS = ["stack", "row", "split", "columns"];

/** The look of a piece: its colours, and how its items are arranged. */
export function StyleFields({ tree, problemAt, onChange }: PartProps) {
  const style = styleOf(tree);
  const set = (key: string, value: string) => {
    const { [key]: _, ...rest } = style;
    onChange(withContent(tree, { style: value ? { ...rest, [key]: value } : rest }));
  };
  return (
    <div className="row" style={{ marginBottom: 10, flexWrap: "wrap" }}>
      {(["background", "ink"] as const).map((key) => (
        <TextField
          key={key}
          type="color"
          label={key}
          sx={{ width: 104 }}
          value={style[key] ?? (key === "ink" ? "#22303a" : "#ffffff")}
          onChange={(event) => set(key, event.target.value)}
          slotProps={{
            inputLabel: { shrink: true },
            input: {
              endAdornment: style[key] && (
                <IconButton size="small" aria-label={`No own ${key}`} onClick={() => set(key, "")}>
                  ×
                </IconButton>
              ),
            },
          }}
        />
      ))}
      <TextField
        select
        label="arranged as"
        value={style.arrange ?? "stack"}
        sx={{ width: 130 }}
        onChange={(event) => set("arrange", event.target.value === "stack" ? "" : event.target.value)}
      >
        {ARRANGEMENTS.map((one) => (
          <MenuItem key={one} value={one}>
            {one}
          </MenuItem>
        ))}
      </TextField>
      {problemAt("/content/style/background") && (
        <p className="field-error">{problemAt("/content/style/background")}</p>
      )}
    </div>
  );
}
