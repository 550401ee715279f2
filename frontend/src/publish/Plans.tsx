import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { api } from "../api/client";
import { plansQuery } from "../api/queries";
import { useSite } from "../parts/site";
import { useAct } from "../parts/useAct";
import { count, when } from "../parts/words";

/** Publications that were refused and are still told of. */
const MOST_REFUSED = 3;
/** How often it is looked whether one that waits was done, in milliseconds. */
const LOOKED_EVERY = 15_000;

/** What waits to be published at a moment, and what was refused when its moment came. */
export function Plans() {
  const site = useSite();
  const act = useAct();
  const plans = useQuery({
    ...plansQuery(site.slug),
    refetchInterval: ({ state }) =>
      state.data?.some((one) => one.state === "waiting") ? LOOKED_EVERY : false,
  }).data;
  const waiting = plans?.filter((one) => one.state === "waiting").reverse() ?? [];
  const refused = plans?.filter((one) => one.state === "refused").slice(0, MOST_REFUSED) ?? [];
  if (waiting.length + refused.length === 0) return null;
  const drop = (id: number, at: string) =>
    act(async () => {
      await api.DELETE("/api/sites/{site}/plans/{number}", {
        params: { path: { site: site.slug, number: id } },
      });
      return `Dropped what was to be published on ${when(at)}. The draft stays as it is.`;
    });
  return (
    <section aria-label="Planned">
      <h2>Planned</h2>
      <ul className="list">
        {waiting.map((one) => (
          <li key={one.id}>
            <div className="row">
              <b className="grow">{when(one.at)}</b>
              <span className="mute">{one.by ?? "the command line"}</span>
            </div>
            {one.note && <div>{one.note}</div>}
            <div className="row">
              <span className="mute grow">
                {count(one.changes, "change")}, as the draft was when it was planned
              </span>
              <Button
                variant="text"
                aria-label={`Drop what is planned for ${when(one.at)}`}
                onClick={() => drop(one.id, one.at)}
              >
                Drop
              </Button>
            </div>
          </li>
        ))}
        {refused.map((one) => (
          <li key={one.id} className="warn">
            {when(one.at)} was refused: {one.told}. {one.note}
          </li>
        ))}
      </ul>
    </section>
  );
}
