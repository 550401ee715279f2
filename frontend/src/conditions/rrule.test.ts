import { describe, expect, it } from "vitest";
import {
  completed,
  dayOf,
  fittingStart,
  newPattern,
  readLasting,
  readPattern,
  writeLasting,
  writePattern,
} from "./rrule";

const FRIDAY = "2026-12-04T18:00";

describe("repeats", () => {
  it.each([
    "FREQ=DAILY",
    "FREQ=DAILY;INTERVAL=3",
    "FREQ=WEEKLY;BYDAY=FR,SA",
    "FREQ=WEEKLY;INTERVAL=2;BYDAY=MO",
    "FREQ=MONTHLY;BYDAY=-1FR",
    "FREQ=MONTHLY;INTERVAL=2;BYDAY=2TU",
    "FREQ=MONTHLY;BYMONTHDAY=15",
    "FREQ=MONTHLY;BYMONTHDAY=-1",
    "FREQ=YEARLY",
  ])("are read into the form and written back as they were: %s", (rrule) => {
    const pattern = readPattern(rrule, FRIDAY);
    expect(pattern && writePattern(pattern)).toBe(rrule);
  });

  it.each([
    "FREQ=WEEKLY;BYDAY=FR;COUNT=3",
    "FREQ=WEEKLY;BYDAY=FR;UNTIL=20270101T000000",
    "FREQ=HOURLY",
    "FREQ=MONTHLY;BYDAY=MO,TU",
    "FREQ=WEEKLY;INTERVAL=0",
    "FREQ=WEEKLY;BYDAY=XX",
    "nonsense",
  ])("that the form cannot show stay text: %s", (rrule) => {
    expect(readPattern(rrule, FRIDAY)).toBeNull();
  });

  it("begin with the day on which they start", () => {
    expect(dayOf(FRIDAY)).toBe("FR");
    expect(readPattern("FREQ=WEEKLY", FRIDAY)).toEqual({ kind: "weeks", every: 1, days: ["FR"] });
    expect(newPattern("weekday", "2026-12-15T08:00")).toEqual({
      kind: "weekday",
      every: 1,
      ordinal: 3,
      day: "TU",
    });
    expect(readPattern("", FRIDAY)).toEqual({ kind: "never" });
  });

  it.each([
    ["FREQ=WEEKLY;BYDAY=FR,SA", "2026-11-26T00:00", "2026-11-27T00:00"],
    ["FREQ=WEEKLY;BYDAY=FR,SA", FRIDAY, FRIDAY],
    ["FREQ=MONTHLY;BYDAY=-1FR", "2026-11-28T18:00", "2026-12-25T18:00"],
    ["FREQ=MONTHLY;BYDAY=2TU", "2026-11-26T00:00", "2026-12-08T00:00"],
    ["FREQ=MONTHLY;BYMONTHDAY=-1", "2026-11-26T07:30", "2026-11-30T07:30"],
    ["FREQ=MONTHLY;BYMONTHDAY=15", "2026-11-26T00:00", "2026-12-15T00:00"],
    ["FREQ=DAILY;INTERVAL=2", "2026-11-26T00:00", "2026-11-26T00:00"],
  ])("move their first time to one of their own: %s from %s", (rrule, from, start) => {
    const pattern = readPattern(rrule, from);
    expect(pattern && fittingStart(pattern, from)).toBe(start);
  });

  it("last so many minutes, hours or days, or what is written", () => {
    for (const text of ["PT6H", "PT90M", "P2D"]) {
      const lasting = readLasting(text);
      expect(lasting && writeLasting(lasting)).toBe(text);
    }
    expect(readLasting("P1DT2H")).toBeNull();
    expect(readLasting("PT6M6")).toBeNull();
  });

  it("written as text, begin with the first of their own times and last a day", () => {
    const written = { rrule: "FREQ=WEEKLY;BYDAY=TU", start: "", duration: "" };
    expect(completed(written, FRIDAY)).toEqual({ ...written, start: "2026-12-08T00:00", duration: "P1D" });
  });

  it("keep what was said, and what cannot be read stays as it is", () => {
    const said = { rrule: "FREQ=DAILY", start: FRIDAY, duration: "PT2H" };
    expect(completed(said, "2027-01-01T00:00")).toEqual(said);
    for (const rrule of ["", "FREQ=DAI", "FREQ=DAILY;COUNT=3"])
      expect(completed({ ...said, rrule, start: "" }, FRIDAY)).toEqual({ ...said, rrule, start: "" });
  });
});
