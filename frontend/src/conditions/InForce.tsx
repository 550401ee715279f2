import { useQuery } from "@tanstack/react-query";
import { useId, useState } from "react";
import type { Problem } from "../api/client";
import { scheduleQuery } from "../api/ruleQueries";
import { useSite } from "../parts/site";
import { useDebounced } from "../parts/useDebounced";
import type { Condition } from "./condition";
import { ScheduleFields } from "./ScheduleFields";
import { Line } from "./Sentence";
import "./schedule.css";

type Schedule = Condition["schedule"];

interface Props {
  schedule: Schedule;
  problemAt: (pointer: string) => Problem | undefined;
  onChange: (schedule: Schedule) => void;
}

/** When a condition holds, as part of the sentence; the token opens what it is made of. */
export function InForce({ schedule, problemAt, onChange }: Props) {
  const site = useSite();
  const [open, setOpen] = useState(false);
  const id = useId();
  const asked = useDebounced(schedule, 80);
  const read = useQuery({ ...scheduleQuery(site.slug, asked ?? {}), enabled: asked !== undefined });
  const words = schedule === undefined ? "always" : read.data?.words || "not readable yet";
  return (
    <>
      <Line lead="in force">
        <button
          type="button"
          className="token when"
          aria-expanded={open}
          aria-controls={id}
          onClick={() => setOpen(!open)}
        >
          {words}
        </button>
      </Line>
      {open && (
        <section id={id} className="schedule" aria-label="When it is in force">
          <ScheduleFields
            schedule={schedule}
            coming={schedule === undefined ? undefined : read.data}
            problemAt={problemAt}
            onChange={onChange}
          />
        </section>
      )}
    </>
  );
}
