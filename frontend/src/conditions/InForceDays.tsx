import dayjs, { type Dayjs } from "dayjs";
import type { Shapes } from "../api/client";

const WEEKDAYS = ["Mo", "Tu", "We", "Th", "Fr", "Sa", "Su"];

/** A small calendar of the month in which it is next in force, each day as far filled as it is in force. */
export function InForceDays({ spans }: { spans: Shapes["SpanInfo"][] }) {
  const first = dayjs(spans[0]?.start).startOf("month");
  const days = first.daysInMonth();
  const blank = (first.day() + 6) % 7;
  return (
    <table className="month">
      <caption>{first.format("MMMM YYYY")}</caption>
      <thead>
        <tr>
          {WEEKDAYS.map((day) => (
            <th key={day} scope="col">
              {day}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {Array.from({ length: Math.ceil((blank + days) / 7) }, (_, week) =>
          first.add(week * 7 - blank, "day"),
        ).map((monday) => (
          <tr key={monday.format("YYYY-MM-DD")}>
            {WEEKDAYS.map((name, at) => (
              <Day key={name} day={monday.add(at, "day")} month={first.month()} spans={spans} />
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Day({ day, month, spans }: { day: Dayjs; month: number; spans: Shapes["SpanInfo"][] }) {
  if (day.month() !== month) return <td />;
  const share = inForce(day, spans);
  return (
    <td
      className={share ? "held" : undefined}
      style={share ? { backgroundSize: `100% ${Math.max(15, share * 100)}%` } : undefined}
      title={share === 1 ? "in force all day" : share ? "in force for a part of the day" : "not in force"}
    >
      {day.date()}
      {share > 0 && <span className="visually-hidden">, in force</span>}
    </td>
  );
}

/** How much of a day is in force, from 0 to 1. */
function inForce(day: Dayjs, spans: Shapes["SpanInfo"][]): number {
  const low = day.valueOf();
  const high = day.add(1, "day").valueOf();
  const held = spans.reduce((sum, { start, end }) => {
    const from = Math.max(low, dayjs(start).valueOf());
    const until = Math.min(high, end ? dayjs(end).valueOf() : high);
    return sum + Math.max(0, until - from);
  }, 0);
  return held / (high - low);
}
