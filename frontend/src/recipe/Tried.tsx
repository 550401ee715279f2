import type { Shapes } from "../api/client";
import { count } from "../parts/words";
import { factName } from "./places";

interface Props {
  fact: string;
  tried: Shapes["TriedRecipe"] | undefined;
  busy: boolean;
}

/** What becomes of one fact on twenty pages of all sections. */
export function Tried({ fact, tried, busy }: Props) {
  const rows = (tried?.pages ?? []).map((page) => ({
    path: page.path,
    ...(page.facts.find((one) => one.fact === fact) ?? { now: "", after: "", place: -1 }),
  }));
  const told = rows.filter((row) => row.after).length;
  const changed = rows.filter((row) => row.now !== row.after).length;
  return (
    <>
      <h2>{factName(fact)}</h2>
      <p className="mute" role="status" aria-busy={busy}>
        {tried
          ? `Told on ${told} of ${count(rows.length, "page")} of all sections; saving changes ${changed} of them.`
          : "Reading twenty pages …"}
      </p>
      <table className="places tried-pages">
        <tbody>
          {rows.map((row) => (
            <tr key={row.path} className={row.now === row.after ? undefined : "changed"}>
              <th scope="row" className="mono" title={row.path}>
                {row.path}
              </th>
              <td title={row.now === row.after ? row.after : `now ${row.now || "nothing"}`}>
                {row.after || <span className="mute">nothing</span>}
                {row.now !== row.after && row.now && <s className="mute"> {row.now}</s>}
              </td>
              <td className="mute number">{row.place >= 0 ? `place ${row.place + 1}` : ""}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
