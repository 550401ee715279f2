import type { Shapes } from "../api/client";
import { PageStrip } from "../parts/PageStrip";
import { PieceName } from "../parts/PieceName";
import { usePieces } from "../parts/site";
import { count, isOpen, outcomeText, targetName } from "../parts/words";
import { BeforeAfter } from "./BeforeAfter";
import { Where } from "./Where";

const keyOf = ({ target, before, after, words }: Shapes["ImpactInfo"]["shifts"][number]) =>
  JSON.stringify([target, before, after, words]);

/** By what a slot is drawn as it was. */
function drawnAsBefore(
  { before, after }: Shapes["ImpactInfo"]["shifts"][number],
  names: Record<string, string>,
) {
  const said = (outcome: typeof after) => outcome && outcomeText(outcome, (slug) => names[slug]);
  if (before && isOpen(before)) return <>what stood there, now by {said(after)}</>;
  if (after && isOpen(after)) return <>what stands in the page itself, as {said(before)} showed it</>;
  return <>{said(after)}, which is the same</>;
}

/** What publishing would change on pages: for whom, when, and what comes where. */
export function Impact({ impact, published }: { impact: Shapes["ImpactInfo"]; published: boolean }) {
  const { bySlug } = usePieces();
  const alike = impact.shifts.filter((shift) => shift.alike);
  const unseen = impact.shifts.filter((shift) => !shift.visible && !shift.alike);
  return (
    <>
      <h2 style={{ marginTop: 18 }}>
        {impact.pages
          ? `Looks different on ${count(impact.pages, "page")}`
          : "No page looks different, for anyone at any time from now on"}
      </h2>
      <ul className="list audiences" aria-label="For whom, when and where">
        {impact.audiences.map((audience) => (
          <Where key={audience.words} where={audience}>
            {audience.words}
          </Where>
        ))}
        {impact.untold.pages > 0 && (
          <Where where={impact.untold}>more combinations of visitors than can be told apart</Where>
        )}
      </ul>
      {published && impact.shifts.some((shift) => shift.visible) && <h3>What comes where</h3>}
      {published &&
        impact.shifts
          .filter((shift) => shift.visible)
          .map((shift) => <BeforeAfter key={keyOf(shift)} shift={shift} names={impact.names} />)}
      {(impact.redraws.length > 0 || (published && impact.own.pages > 0)) && (
        <h3>What is drawn differently</h3>
      )}
      <ul className="list" aria-label="Drawn differently">
        {impact.redraws.map((redraw) => (
          <Where
            key={`${redraw.piece} ${redraw.dress} ${redraw.words}`}
            where={redraw}
            strip={
              redraw.piece && (
                <PageStrip
                  paths={redraw.paths}
                  total={redraw.pages}
                  blocks={(["faded", ""] as const).map((look) => ({
                    colour: bySlug.get(redraw.piece)?.colour,
                    look,
                  }))}
                  about={`${impact.names[redraw.piece] ?? redraw.piece}, ${redraw.words}`}
                  params={{ beside: "live" }}
                />
              )
            }
          >
            {redraw.dress ? (
              `The dress ${impact.dresses[redraw.dress] ?? redraw.dress}`
            ) : (
              <PieceName slug={redraw.piece} />
            )}
            {redraw.words !== "everyone" && <span className="mute"> for {redraw.words}</span>}
          </Where>
        ))}
        {impact.own.pages > 0 && published && (
          <Where where={impact.own}>Pages that come or go, or whose own content or facts changed</Where>
        )}
      </ul>
      {alike.length > 0 && (
        <>
          <h3>Drawn as before</h3>
          <ul className="list" aria-label="Drawn as before">
            {alike.map((shift) => (
              <Where key={keyOf(shift)} where={shift}>
                {targetName(shift.target)}: {drawnAsBefore(shift, impact.names)}
              </Where>
            ))}
          </ul>
        </>
      )}
      {unseen.length > 0 && (
        <>
          <h3>Changes nothing to be seen: these pages have no place for it</h3>
          <ul className="list">
            {unseen.map((shift) => (
              <Where key={keyOf(shift)} where={shift}>
                {targetName(shift.target)}
              </Where>
            ))}
          </ul>
        </>
      )}
    </>
  );
}
