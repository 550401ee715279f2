import type { Problem, Shapes } from "../api/client";
import { FieldError } from "./FieldError";
import { normalSchedule, type Repeats, trimSchedule } from "./ruleTree";

type Schedule = Shapes["ConditionTree"]["schedule"];

interface Props {
  schedule: Schedule;
  problemAt: (pointer: string) => Problem | undefined;
  onChange: (schedule: Schedule) => void;
}

const REPEATS: { key: keyof Repeats; label: string; placeholder: string; type: string }[] = [
  { key: "rrule", label: "Repeats", placeholder: "FREQ=WEEKLY;BYDAY=FR,SA", type: "text" },
  { key: "start", label: "First", placeholder: "", type: "datetime-local" },
  { key: "duration", label: "For", placeholder: "PT6H", type: "text" },
];

/** When a rule is in force: from, until and repeats, in the time zone of the site. */
export function ScheduleFields({ schedule, problemAt, onChange }: Props) {
  const shown = normalSchedule(schedule);
  const edge = (key: "from" | "until", label: string) => (
    <ScheduleField
      label={label}
      type="datetime-local"
      value={shown[key]}
      problem={problemAt(`/${key}`)}
      onChange={(value) => onChange(trimSchedule({ ...shown, [key]: value }))}
    />
  );
  return (
    <>
      <h2 className="mute" style={{ fontSize: 13, fontWeight: 400, margin: "18px 0 4px" }}>
        When, in the time of the site; nothing said is always
      </h2>
      <div className="schedule">
        {edge("from", "From")}
        {edge("until", "Until")}
        {REPEATS.map(({ key, ...field }) => (
          <ScheduleField
            key={key}
            {...field}
            value={shown.repeats[key]}
            problem={problemAt(`/repeats/${key}`)}
            onChange={(value) =>
              onChange(trimSchedule({ ...shown, repeats: { ...shown.repeats, [key]: value } }))
            }
          />
        ))}
      </div>
      <FieldError problem={problemAt("/repeats")} />
    </>
  );
}

interface FieldProps {
  label: string;
  type: string;
  placeholder?: string;
  value: string;
  problem: Problem | undefined;
  onChange: (value: string) => void;
}

function ScheduleField({ label, problem, onChange, ...input }: FieldProps) {
  return (
    <div>
      <label>
        <span className="mute">{label}</span>
        <input
          className="input"
          aria-invalid={Boolean(problem)}
          onChange={(event) => onChange(event.target.value)}
          {...input}
        />
      </label>
      <FieldError problem={problem} />
    </div>
  );
}
