/** Repeats as the form shows them, to and from an RRULE (RFC 5545, section 3.3.10). */

import type { Repeats } from "./condition";

export const DAYS = ["MO", "TU", "WE", "TH", "FR", "SA", "SU"] as const;
export type Day = (typeof DAYS)[number];
export const DAY_NAMES: Record<Day, string> = {
  MO: "Monday",
  TU: "Tuesday",
  WE: "Wednesday",
  TH: "Thursday",
  FR: "Friday",
  SA: "Saturday",
  SU: "Sunday",
};

/** How the times come again: each kind has its own fields. */
export type Pattern =
  | { kind: "never" }
  | { kind: "days"; every: number }
  | { kind: "weeks"; every: number; days: Day[] }
  | { kind: "weekday"; every: number; ordinal: number; day: Day }
  | { kind: "monthday"; every: number; date: number }
  | { kind: "years"; every: number };

export type Kind = Pattern["kind"];

export const KINDS: Record<Kind, string> = {
  never: "does not repeat",
  days: "by days",
  weeks: "by weeks",
  weekday: "by months, on a weekday",
  monthday: "by months, on a date",
  years: "by years",
};

const FREQUENCIES: Record<string, Kind> = {
  DAILY: "days",
  WEEKLY: "weeks",
  MONTHLY: "weekday",
  YEARLY: "years",
};

/** The pattern that an RRULE stands for; null for one that has more to it than the form shows. */
export function readPattern(rrule: string, start: string): Pattern | null {
  if (!rrule.trim()) return { kind: "never" };
  const parts = new Map<string, string>();
  for (const part of rrule.split(";")) {
    const [name = "", value = ""] = part.split("=");
    parts.set(name.trim().toUpperCase(), value.trim().toUpperCase());
  }
  const kind = FREQUENCIES[parts.get("FREQ") ?? ""];
  const every = Number(parts.get("INTERVAL") ?? "1");
  const names = [...parts.keys()].filter((name) => name !== "FREQ" && name !== "INTERVAL");
  if (!kind || !Number.isInteger(every) || every < 1) return null;
  const only = (...allowed: string[]) => names.every((name) => allowed.includes(name));
  if (kind === "weeks" && only("BYDAY")) {
    const days = parts.has("BYDAY") ? (parts.get("BYDAY") ?? "").split(",") : [dayOf(start)];
    return days.every(isDay) ? { kind, every, days: DAYS.filter((day) => days.includes(day)) } : null;
  }
  if (kind === "weekday" && only("BYDAY") && parts.has("BYDAY")) {
    const found = /^([1-5]|-1)(MO|TU|WE|TH|FR|SA|SU)$/.exec(parts.get("BYDAY") ?? "");
    return found ? { kind, every, ordinal: Number(found[1]), day: found[2] as Day } : null;
  }
  if (kind === "weekday" && only("BYMONTHDAY")) {
    const date = Number(parts.get("BYMONTHDAY") ?? Number(start.slice(8, 10)));
    return Number.isInteger(date) && (date === -1 || (date >= 1 && date <= 31))
      ? { kind: "monthday", every, date }
      : null;
  }
  return (kind === "days" || kind === "years") && only() ? { kind, every } : null;
}

/** The RRULE of a pattern. */
export function writePattern(pattern: Pattern): string {
  if (pattern.kind === "never") return "";
  const interval = pattern.every > 1 ? `;INTERVAL=${pattern.every}` : "";
  switch (pattern.kind) {
    case "days":
      return `FREQ=DAILY${interval}`;
    case "weeks":
      return `FREQ=WEEKLY${interval}${pattern.days.length ? `;BYDAY=${pattern.days.join(",")}` : ""}`;
    case "weekday":
      return `FREQ=MONTHLY${interval};BYDAY=${pattern.ordinal}${pattern.day}`;
    case "monthday":
      return `FREQ=MONTHLY${interval};BYMONTHDAY=${pattern.date}`;
    case "years":
      return `FREQ=YEARLY${interval}`;
  }
}

/** A pattern of a kind as it is first chosen, fitting the day it starts on. */
export function newPattern(kind: Kind, start: string): Pattern {
  const day = dayOf(start);
  const date = Number(start.slice(8, 10)) || 1;
  switch (kind) {
    case "weeks":
      return { kind, every: 1, days: [day] };
    case "weekday":
      return { kind, every: 1, ordinal: Math.ceil(date / 7), day };
    case "monthday":
      return { kind, every: 1, date };
    case "never":
      return { kind };
    default:
      return { kind, every: 1 };
  }
}

const isDay = (text: string): text is Day => (DAYS as readonly string[]).includes(text);

/** The weekday of a local date-time; Monday where there is none. */
export function dayOf(start: string): Day {
  const date = new Date(`${start.slice(0, 10)}T12:00:00Z`);
  return DAYS[(date.getUTCDay() + 6) % 7] ?? "MO";
}

/** How far ahead a first time is looked for, in days: two leap years lie within. */
const MOST_DAYS = 3000;

/** The first time from a local date-time on that a pattern takes: what repeats has to begin with one of its own times. */
export function fittingStart(pattern: Pattern, start: string): string {
  const clock = start.slice(10);
  const at = new Date(`${start.slice(0, 10)}T12:00:00Z`);
  for (let days = 0; days < MOST_DAYS; days += 1) {
    const date = at.toISOString().slice(0, 10);
    if (takes(pattern, date)) return `${date}${clock}`;
    at.setUTCDate(at.getUTCDate() + 1);
  }
  return start;
}

/** With what an RRULE needs besides, where that is empty: its first time from the day of a moment on, each for a day. */
export function completed(repeats: Repeats, moment: string): Repeats {
  const pattern = readPattern(repeats.rrule, repeats.start || moment);
  if (!pattern || pattern.kind === "never" || (repeats.start && repeats.duration)) return repeats;
  return {
    rrule: repeats.rrule,
    start: repeats.start || fittingStart(pattern, `${moment.slice(0, 10)}T00:00`),
    duration: repeats.duration || "P1D",
  };
}

/** Whether a pattern takes a day, such as 2026-12-04. */
function takes(pattern: Pattern, date: string): boolean {
  const day = Number(date.slice(8, 10));
  const last = new Date(Date.UTC(Number(date.slice(0, 4)), Number(date.slice(5, 7)), 0)).getUTCDate();
  switch (pattern.kind) {
    case "weeks":
      return pattern.days.includes(dayOf(date));
    case "weekday":
      return (
        dayOf(date) === pattern.day &&
        (pattern.ordinal > 0 ? Math.ceil(day / 7) === pattern.ordinal : day > last - 7)
      );
    case "monthday":
      return pattern.date > 0 ? day === pattern.date : day === last;
    default:
      return true;
  }
}

const UNITS = { minutes: "M", hours: "H", days: "D" } as const;
export type Unit = keyof typeof UNITS;

/** A duration of one unit (ISO 8601); null for one that is made of several, or is none. */
export function readLasting(duration: string): { number: number; unit: Unit } | null {
  const found = /^P(?:(\d+)D|T(?:(\d+)H|(\d+)M))$/.exec(duration.trim());
  if (!found) return null;
  if (found[1]) return { number: Number(found[1]), unit: "days" };
  return found[2]
    ? { number: Number(found[2]), unit: "hours" }
    : { number: Number(found[3]), unit: "minutes" };
}

export const writeLasting = ({ number, unit }: { number: number; unit: Unit }) =>
  `P${unit === "days" ? "" : "T"}${number}${UNITS[unit]}`;
