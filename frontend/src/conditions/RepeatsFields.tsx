import TextField from "@mui/material/TextField";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import { Chooser } from "../parts/controls";
import { useSite } from "../parts/site";
import type { Repeats } from "./condition";
import {
  completed,
  DAY_NAMES,
  DAYS,
  type Day,
  dayOf,
  fittingStart,
  KINDS,
  type Kind,
  newPattern,
  type Pattern,
  readPattern,
  writePattern,
} from "./rrule";

interface Props {
  repeats: Repeats;
  onChange: (changes: Partial<Repeats>) => void;
}

const KIND_OPTIONS = Object.entries(KINDS) as [Kind, string][];
const ORDINALS: [string, string][] = [
  ["1", "the first"],
  ["2", "the second"],
  ["3", "the third"],
  ["4", "the fourth"],
  ["5", "the fifth"],
  ["-1", "the last"],
];
const MONTH_DAYS: [string, string][] = [
  ...Array.from({ length: 31 }, (_, at): [string, string] => [String(at + 1), `on the ${at + 1}.`]),
  ["-1", "on the last day"],
];
/** What a period is called, for "every second week". */
const PERIODS: Record<Exclude<Kind, "never">, string> = {
  days: "day",
  weeks: "week",
  weekday: "month",
  monthday: "month",
  years: "year",
};
const EVERY = ["", "every", "every second", "every third", "every fourth"];

/** How times come again, without a word of RRULE; one that has more to it stays as it is written below. */
export function RepeatsFields({ repeats, onChange }: Props) {
  const site = useSite();
  const pattern = readPattern(repeats.rrule, repeats.start);
  const set = (next: Pattern) => {
    const rrule = writePattern(next);
    if (!rrule) return onChange({ rrule: "", start: "", duration: "" });
    const start = repeats.start && fittingStart(next, repeats.start);
    onChange(completed({ rrule, start, duration: repeats.duration }, site.now));
  };
  if (pattern === null)
    return (
      <p className="mute">Repeats as it is written below, which has more to it than can be shown here.</p>
    );
  return (
    <div className="row" style={{ flexWrap: "wrap" }}>
      <Chooser
        label="How it repeats"
        value={pattern.kind}
        options={KIND_OPTIONS}
        onChange={(kind) => set(newPattern(kind, repeats.start || site.now))}
      />
      {pattern.kind !== "never" && (
        <Every pattern={pattern} onChange={(every) => set({ ...pattern, every })} />
      )}
      {pattern.kind === "weeks" && (
        <ToggleButtonGroup
          size="small"
          aria-label="On which weekdays"
          value={pattern.days}
          onChange={(_, days: Day[]) =>
            set({
              ...pattern,
              days: days.length ? DAYS.filter((day) => days.includes(day)) : [dayOf(repeats.start)],
            })
          }
        >
          {DAYS.map((day) => (
            <ToggleButton key={day} value={day} aria-label={DAY_NAMES[day]}>
              {DAY_NAMES[day].slice(0, 2)}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
      )}
      {pattern.kind === "weekday" && (
        <>
          <Chooser
            label="Which of them"
            value={String(pattern.ordinal)}
            options={ORDINALS}
            onChange={(ordinal) => set({ ...pattern, ordinal: Number(ordinal) })}
          />
          <Chooser
            label="Weekday"
            value={pattern.day}
            options={DAYS.map((day) => [day, DAY_NAMES[day]] as const)}
            onChange={(day) => set({ ...pattern, day })}
          />
        </>
      )}
      {pattern.kind === "monthday" && (
        <Chooser
          label="Day of the month"
          value={String(pattern.date)}
          options={MONTH_DAYS}
          onChange={(date) => set({ ...pattern, date: Number(date) })}
        />
      )}
    </div>
  );
}

/** Every period, or every second or third; a greater number can be typed. */
function Every({
  pattern,
  onChange,
}: {
  pattern: Exclude<Pattern, { kind: "never" }>;
  onChange: (every: number) => void;
}) {
  const period = PERIODS[pattern.kind];
  if (pattern.every < EVERY.length)
    return (
      <Chooser
        label="How often"
        value={String(pattern.every)}
        options={[
          ...EVERY.slice(1).map((text, at) => [String(at + 1), `${text} ${period}`] as const),
          [String(EVERY.length), "less often …"] as const,
        ]}
        onChange={(every) => onChange(Number(every))}
      />
    );
  return (
    <span className="row">
      every
      <TextField
        type="number"
        sx={{ width: 70 }}
        value={pattern.every}
        slotProps={{ htmlInput: { "aria-label": "How often", min: 1, max: 500 } }}
        onChange={(event) =>
          onChange(Math.min(500, Math.max(1, Math.trunc(Number(event.target.value)) || 1)))
        }
      />
      {period}s
    </span>
  );
}
