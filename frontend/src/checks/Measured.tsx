import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { measuredQuery } from "../api/queries";
import { useLacking } from "../parts/rights";
import { useSite } from "../parts/site";
import { count, figure, when } from "../parts/words";
import { useMeasuring } from "./useMeasuring";

const WHAT =
  "Menus that wrap, what reaches over the edge, ink that cannot be read on what lies under it, ids that stand twice, headings that skip a level: what is found joins the findings.";

/** What only a drawn page tells is measured here: one page of each layout, at three widths, through the lens at hand. */
export function Measured() {
  const site = useSite();
  const kept = useQuery(measuredQuery(site.slug)).data;
  const { state, start, stop } = useMeasuring();
  const lacking = useLacking("editor");
  const told = () => {
    if (state?.problem) return state.problem;
    if (state) return `${figure(state.done)} of ${count(state.all, "page")} measured at three widths …`;
    if (!kept) return WHAT;
    const since = kept.version === site.version ? "" : "; the draft has changed since";
    return `Measured ${when(kept.made)}${kept.by ? ` by ${kept.by}` : ""}${since}. ${WHAT}`;
  };
  return (
    <section aria-label="Measured in drawn pages">
      <h2 className="severity">In drawn pages</h2>
      <div className="row">
        {state?.going ? (
          <Button variant="outlined" onClick={stop}>
            Stop
          </Button>
        ) : (
          <Button variant="outlined" onClick={start} disabled={lacking !== ""} title={lacking || undefined}>
            {kept ? "Measure again" : "Measure one page of each layout"}
          </Button>
        )}
        <span className={state?.problem ? "field-error" : "mute"} role="status">
          {told()}
        </span>
      </div>
    </section>
  );
}
