import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { Chooser } from "../parts/controls";

interface Hours {
  day: string;
  from: string;
  until: string;
}

const DAYS = [
  ["mon", "Monday"],
  ["tue", "Tuesday"],
  ["wed", "Wednesday"],
  ["thu", "Thursday"],
  ["fri", "Friday"],
  ["sat", "Saturday"],
  ["sun", "Sunday"],
] as const;

interface Props {
  value: unknown;
  label: string;
  onChange: (value: Hours[]) => void;
}

/** Days with their opening and closing times; a day may stand twice, with a pause between. */
export function HoursField({ value, label, onChange }: Props) {
  const lines = Array.isArray(value) ? (value as Hours[]) : [];
  const set = (place: number, changes: Partial<Hours>) =>
    onChange(lines.map((line, at) => (at === place ? { ...line, ...changes } : line)));
  const next = DAYS[Math.min(lines.length, 6)]?.[0] ?? "mon";
  return (
    <div style={{ display: "grid", gap: 4 }}>
      {lines.map((line, place) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a line is its place
        <div className="row" key={place}>
          <Chooser
            label={`${label}, day ${place + 1}`}
            value={line.day as (typeof DAYS)[number][0]}
            options={DAYS}
            onChange={(day) => set(place, { day })}
          />
          {(["from", "until"] as const).map((key) => (
            <TextField
              key={key}
              type="time"
              value={line[key]}
              slotProps={{ htmlInput: { "aria-label": `${label}, ${key} ${place + 1}` } }}
              onChange={(event) => set(place, { [key]: event.target.value })}
            />
          ))}
          <Button
            variant="text"
            color="inherit"
            style={{ minWidth: 28 }}
            aria-label={`Take away day ${place + 1}`}
            onClick={() => onChange(lines.filter((_, at) => at !== place))}
          >
            ×
          </Button>
        </div>
      ))}
      <div>
        <button
          type="button"
          className="token add"
          onClick={() => onChange([...lines, { day: next, from: "08:00", until: "17:00" }])}
        >
          + day
        </button>
      </div>
    </div>
  );
}
