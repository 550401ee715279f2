import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { startTransition, useRef, useState } from "react";
import { answer, api, type Shapes } from "../api/client";
import { layoutQuery, lensQuery } from "../api/queries";
import { Coming } from "./Coming";
import { KeptLenses } from "./KeptLenses";
import { LensForm } from "./LensForm";
import { MomentField } from "./MomentField";
import { useTellError } from "./messages";
import { layoutsInSight, useAddress, useLens, useSite } from "./site";

/** How long strips may take, in milliseconds, for all to be redrawn with them at once rather than before them. */
const STRIPS_WITHIN = 150;
const rested = (milliseconds: number) => new Promise((resolve) => setTimeout(resolve, milliseconds));

/** Everything that makes a lens: the visitor, the moment, and lenses that were given a name. */
export default function LensBox() {
  const site = useSite();
  const lens = useLens();
  const { get, set } = useAddress();
  const read = useQuery(lensQuery(site.slug, lens));
  const tellError = useTellError();
  const client = useQueryClient();
  /** What was chosen and is not in the address yet: it shows at once, and further choices build on it. */
  const [chosen, setChosen] = useState<Shapes["LensFacts"] | null>(null);
  const newest = useRef<Shapes["LensFacts"] | null>(null);
  /** Something else is looked through now: a choice that is still on its way does not undo that. */
  const leave = () => {
    newest.current = null;
    setChosen(null);
  };
  const change = async (facts: Shapes["LensFacts"]) => {
    newest.current = facts;
    const params = { path: { site: site.slug } };
    const asked = answer(api.POST("/api/sites/{site}/lens", { params, body: { facts, at: lens.at } }));
    // The box is drawn while the server works: what is drawn in the same turn would hold the request back.
    const drawing = setTimeout(() => newest.current === facts && setChosen(facts));
    try {
      const written = await asked;
      // A hand waits for its strips: where they are in sight, they are asked for before the address tells the rest.
      const seen = { visitor: written.visitor, at: lens.at };
      const strips = layoutsInSight(client, site.slug).map(({ targets }) =>
        client.prefetchQuery(layoutQuery(site.slug, site.version, seen, targets)),
      );
      await Promise.race([Promise.all(strips), rested(STRIPS_WITHIN)]);
      // A later choice says all that this one does.
      if (newest.current !== facts) return;
      client.setQueryData(lensQuery(site.slug, seen).queryKey, written);
      set({ visitor: written.visitor });
    } catch (error) {
      if (newest.current === facts) tellError(error);
    }
    clearTimeout(drawing);
    // The address is drawn as a transition; what was chosen gives way to it in the same one, never before it.
    if (newest.current === facts) startTransition(() => setChosen(null));
  };
  return (
    <div className="popover wide" role="dialog" aria-label="The lens">
      {read.isError && (
        <div className="note-box bad" role="alert">
          {read.error.message}{" "}
          <Button variant="text" onClick={() => set({ visitor: null, at: null })}>
            See it as the usual visitor, now
          </Button>
        </div>
      )}
      {read.data && <LensForm facts={chosen ?? read.data.facts} change={change} />}
      <div className="row" style={{ marginTop: 10 }}>
        <MomentField label="Moment" value={lens.at} onChange={(at) => set({ at })} />
        <Button variant="text" disabled={!lens.at} onClick={() => set({ at: "" })}>
          Now
        </Button>
      </div>
      <FormControlLabel
        label="Mark in the list of pages what is not the same for anyone, at any time"
        control={
          <Checkbox
            checked={get("anyone") !== ""}
            onChange={(event) => set({ anyone: event.target.checked ? "marked" : null })}
          />
        }
      />
      <Coming />
      <KeptLenses pending={chosen !== null} onUse={leave} />
      <p className="mute">{lens.at ? "In the time of the site." : "Now. Set a moment to see another."}</p>
    </div>
  );
}
