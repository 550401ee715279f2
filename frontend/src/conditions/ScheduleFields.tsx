import TextField from "@mui/material/TextField";
import type { Problem, Shapes } from "../api/client";
import { MomentField } from "../parts/MomentField";
import { normalSchedule, type Repeats, trimSchedule } from "./condition";
import { FieldError } from "./FieldError";

type Schedule = Shapes["ConditionTree"]["schedule"];

interface Props {
  schedule: Schedule;
  problemAt: (pointer: string) => Problem | undefined;
  onChange: (schedule: Schedule) => void;
}

const REPEATS: { key: "rrule" | "duration"; label: string; placeholder: string }[] = [
  { key: "rrule", label: "Repeats", placeholder: "FREQ=WEEKLY;BYDAY=FR,SA" },
  { key: "duration", label: "For", placeholder: "PT6H" },
];

/** When a rule is in force: from, until and repeats, in the time zone of the site. */
export function ScheduleFields({ schedule, problemAt, onChange }: Props) {
  const shown = normalSchedule(schedule);
  const setRepeats = (key: keyof Repeats, value: string) =>
    onChange(trimSchedule({ ...shown, repeats: { ...shown.repeats, [key]: value } }));
  const moment = (pointer: string, label: string, value: string, set: (value: string) => void) => (
    <div>
      <MomentField label={label} value={value} wrong={Boolean(problemAt(pointer))} onChange={set} />
      <FieldError problem={problemAt(pointer)} />
    </div>
  );
  return (
    <>
      <h2 className="mute" style={{ fontSize: 13, fontWeight: 400, margin: "18px 0 4px" }}>
        When, in the time of the site; nothing said is always
      </h2>
      <div className="schedule">
        {moment("/from", "From", shown.from, (from) => onChange(trimSchedule({ ...shown, from })))}
        {moment("/until", "Until", shown.until, (until) => onChange(trimSchedule({ ...shown, until })))}
        {moment("/repeats/start", "First", shown.repeats.start, (start) => setRepeats("start", start))}
        {REPEATS.map(({ key, label, placeholder }) => (
          <div key={key}>
            <TextField
              fullWidth
              label={label}
              placeholder={placeholder}
              value={shown.repeats[key]}
              error={Boolean(problemAt(`/repeats/${key}`))}
              slotProps={{ inputLabel: { shrink: true } }}
              onChange={(event) => setRepeats(key, event.target.value)}
            />
            <FieldError problem={problemAt(`/repeats/${key}`)} />
          </div>
        ))}
      </div>
      <FieldError problem={problemAt("/repeats")} />
    </>
  );
}
