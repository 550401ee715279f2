import type { Shapes } from "../api/client";
import { capital } from "../parts/words";

interface Props {
  table: Shapes["AudienceTableInfo"];
  /** The number of the look that is seen now, from 0; -1 for none of them. */
  current: number;
  onSee: (look: number) => void;
}

/** Which look is seen by whom and when, as a table. */
export function WhoSees({ table, current, onSee }: Props) {
  return (
    <table className="who-sees">
      <caption>Who sees which</caption>
      <thead>
        <tr>
          <th scope="col">Visitors</th>
          {table.times.map((time) => (
            <th scope="col" key={time}>
              {capital(time)}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {table.visitors.map((visitor, row) => (
          <tr key={visitor}>
            <th scope="row">{capital(visitor)}</th>
            {table.looks[row]?.map((look, column) => (
              <td key={table.times[column]}>
                <button
                  type="button"
                  className="plain"
                  aria-label={`Look ${look + 1}: ${visitor}, ${table.times[column]}`}
                  aria-pressed={look === current}
                  onClick={() => onSee(look)}
                >
                  {look + 1}
                </button>
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
