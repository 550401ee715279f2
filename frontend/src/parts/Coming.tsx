import Slider from "@mui/material/Slider";
import { useQuery } from "@tanstack/react-query";
import dayjs from "dayjs";
import { startTransition, useState } from "react";
import type { Shapes } from "../api/client";
import { boundariesQuery } from "../api/queries";
import { useAddress, useLens, useSite } from "./site";
import { count, when } from "./words";

type Boundary = Shapes["BoundaryInfo"];

/** How far the slider reaches, in days. */
const DAYS = 42;
const HOURS = DAYS * 24;
const MOST_LISTED = 5;

/** The coming weeks as a slider, with a mark wherever anything changes by itself on the pages shown. */
export function Coming() {
  const site = useSite();
  const lens = useLens();
  const { get, set } = useAddress();
  const found = useQuery(boundariesQuery(site.slug, DAYS, get("q"))).data;
  const [moved, setMoved] = useState<number | null>(null);
  // Whole hours, so that a moment that was chosen is told as the same one again.
  const start = dayjs(site.now).startOf("hour");
  const hoursTo = (at: string) => dayjs(at).diff(start, "minute") / 60;
  const at = moved ?? (lens.at ? Math.min(HOURS, Math.max(0, hoursTo(lens.at))) : 0);
  const momentOf = (hours: number) =>
    hours === 0 ? "" : start.add(hours, "hour").format("YYYY-MM-DDTHH:mm");
  const words = (hours: number) => (hours === 0 ? "now" : when(momentOf(hours)));
  return (
    <div className="lens-field">
      <span className="lens-label">The coming {DAYS / 7} weeks</span>
      <Slider
        aria-label="Moment in the coming weeks"
        size="small"
        min={0}
        max={HOURS}
        step={1}
        value={at}
        marks={found?.map((one) => ({ value: hoursTo(one.at) })) ?? []}
        valueLabelDisplay="auto"
        valueLabelFormat={words}
        getAriaValueText={words}
        onChange={(_, hours) => setMoved(hours as number)}
        onChangeCommitted={(_, hours) => {
          set({ at: momentOf(hours as number) });
          // With the address, which is drawn as a transition: the slider does not jump back in between.
          startTransition(() => setMoved(null));
        }}
      />
      {found?.length === 0 && (
        <p className="mute">Nothing changes by itself{get("q") && " on the pages shown"}.</p>
      )}
      {found && found.length > 0 && (
        <ul className="coming" aria-label="What changes by itself">
          {found.slice(0, MOST_LISTED).map((one) => (
            <li key={one.at}>
              <button type="button" className="plain" onClick={() => set({ at: one.at.slice(0, 16) })}>
                <b>{when(one.at)}</b> {changes(one)}
              </button>
            </li>
          ))}
          {found.length > MOST_LISTED && (
            <li className="mute">and {count(found.length - MOST_LISTED, "more moment")}</li>
          )}
        </ul>
      )}
    </div>
  );
}

/** What begins and what ends, in words. */
function changes({ begins, ends }: Boundary): string {
  const verb = (names: string[], one: string, many: string) =>
    names.length ? `${names.join(", ")} ${names.length === 1 ? one : many}` : "";
  return [verb(begins, "begins", "begin"), verb(ends, "ends", "end")].filter(Boolean).join("; ");
}
