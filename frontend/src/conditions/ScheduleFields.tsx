import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import type { FocusEvent } from "react";
import type { Problem, Shapes } from "../api/client";
import { Chooser } from "../parts/controls";
import { MomentField } from "../parts/MomentField";
import { useSite } from "../parts/site";
import { day, when } from "../parts/words";
import { type Condition, normalSchedule, type Repeats, trimSchedule } from "./condition";
import { FieldError } from "./FieldError";
import { InForceDays } from "./InForceDays";
import { RepeatsFields } from "./RepeatsFields";
import { completed, readLasting, type Unit, writeLasting } from "./rrule";

type Schedule = Condition["schedule"];

interface Props {
  schedule: Schedule;
  /** The next times in force; undefined where it always is, or while they are not known. */
  coming: Shapes["ScheduleInfo"] | undefined;
  problemAt: (pointer: string) => Problem | undefined;
  onChange: (schedule: Schedule) => void;
}

const AS_TEXT: { key: "rrule" | "duration"; label: string; placeholder: string }[] = [
  { key: "rrule", label: "Repeats", placeholder: "FREQ=WEEKLY;BYDAY=FR,SA" },
  { key: "duration", label: "For", placeholder: "PT6H" },
];
const UNITS: (readonly [Unit, string])[] = [
  ["minutes", "minutes"],
  ["hours", "hours"],
  ["days", "days"],
];
const MOST_LISTED = 4;

/** When something is in force: from, until and repeats, in the time of the site, with what comes of it beside. */
export function ScheduleFields({ schedule, coming, problemAt, onChange }: Props) {
  const site = useSite();
  const shown = normalSchedule(schedule);
  const setRepeats = (changes: Partial<Repeats>) =>
    onChange(trimSchedule({ ...shown, repeats: { ...shown.repeats, ...changes } }));
  // Once both texts are left: nothing comes into a field while somebody is about to write there.
  const complete = ({ currentTarget, relatedTarget }: FocusEvent) => {
    const repeats = completed(shown.repeats, site.now);
    if (!currentTarget.contains(relatedTarget as Node | null) && repeats !== shown.repeats)
      setRepeats(repeats);
  };
  const moment = (pointer: string, label: string, value: string, set: (value: string) => void) => (
    <div>
      <MomentField label={label} value={value} wrong={Boolean(problemAt(pointer))} onChange={set} />
      <FieldError problem={problemAt(pointer)} />
    </div>
  );
  const lasting = readLasting(shown.repeats.duration);
  return (
    <>
      <div className="schedule-parts">
        <div className="row">
          {moment("/from", "From", shown.from, (from) => onChange(trimSchedule({ ...shown, from })))}
          {moment("/until", "Until", shown.until, (until) => onChange(trimSchedule({ ...shown, until })))}
        </div>
        <RepeatsFields repeats={shown.repeats} onChange={setRepeats} />
        <div className="row">
          {moment("/repeats/start", "First", shown.repeats.start, (start) => setRepeats({ start }))}
          {lasting && (
            <span className="lasting">
              <span className="mute">for</span>
              <TextField
                type="number"
                sx={{ width: 70 }}
                value={lasting.number}
                slotProps={{ htmlInput: { "aria-label": "How long", min: 1 } }}
                onChange={(event) => {
                  const number = Math.max(1, Math.trunc(Number(event.target.value)) || 1);
                  setRepeats({ duration: writeLasting({ ...lasting, number }) });
                }}
              />
              <Chooser
                label="Unit of how long"
                value={lasting.unit}
                options={UNITS}
                onChange={(unit) => setRepeats({ duration: writeLasting({ ...lasting, unit }) })}
              />
            </span>
          )}
        </div>
        <div role="group" aria-label="Repeats, as text" className="row as-text" onBlur={complete}>
          {AS_TEXT.map(({ key, label, placeholder }) => (
            <div key={key} className="grow">
              <TextField
                fullWidth
                label={label}
                placeholder={placeholder}
                value={shown.repeats[key]}
                error={Boolean(problemAt(`/repeats/${key}`))}
                slotProps={{ inputLabel: { shrink: true }, htmlInput: { className: "mono" } }}
                onChange={(event) => setRepeats({ [key]: event.target.value })}
              />
              <FieldError problem={problemAt(`/repeats/${key}`)} />
            </div>
          ))}
        </div>
        <FieldError problem={problemAt("/repeats")} />
        {coming && coming.words !== "" && (
          <p className="mute" role="status" aria-label="Next times">
            {coming.spans.length === 0 ? "Never from now on." : `Next: ${nextTimes(coming)}`}
          </p>
        )}
        {schedule !== undefined && (
          <div>
            <Button variant="text" onClick={() => onChange(undefined)}>
              Always
            </Button>
          </div>
        )}
      </div>
      {coming && coming.spans.length > 0 && <InForceDays spans={coming.spans} />}
    </>
  );
}

/** The next times in a row, and how many more are known of. */
function nextTimes({ spans, more }: Shapes["ScheduleInfo"]): string {
  const told = spans.slice(0, MOST_LISTED).map(({ start, end }) => {
    if (!end) return `from ${when(start)} on`;
    return isWholeDay(start, end) ? day(start) : `${when(start)} to ${ending(start, end)}`;
  });
  const rest = spans.length - told.length;
  return `${told.join(" · ")}${rest > 0 ? ` · ${more ? "and on" : `${rest} more`}` : ""}`;
}

const DAY = 86_400_000;
const isWholeDay = (start: string, end: string) =>
  start.slice(11, 16) === "00:00" && Date.parse(end) - Date.parse(start) === DAY;

/** The end of a time: the clock alone where it is on the same day, or at the midnight after it. */
function ending(start: string, end: string): string {
  const sameDay = start.slice(0, 10) === end.slice(0, 10);
  if (end.slice(11, 16) === "00:00" && Date.parse(end) - Date.parse(start) < DAY) return "midnight";
  return sameDay ? end.slice(11, 16) : when(end);
}
