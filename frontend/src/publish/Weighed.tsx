import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { weighedQuery } from "../api/queries";
import { Opening } from "../parts/Opening";
import { useLacking } from "../parts/rights";
import { useSite } from "../parts/site";
import { restOn, useDebounced } from "../parts/useDebounced";
import type { Editing } from "../parts/useDraft";
import { useSteady } from "../parts/useSteady";
import { count } from "../parts/words";
import { Impact } from "./Impact";

/** How long a hand rests until it is asked what its edit would change, in milliseconds, on the smallest site. */
const RESTS = 400;
/** The pages of a site up to which that is asked by itself; on a larger one it takes the server long, so it waits to be wanted. */
const BY_ITSELF = 20_000;

interface Props<T extends { name: string }> {
  editing: Editing<T>;
  /** Where what is edited stands below the site in the API, and what is sent there to save it. */
  to: string;
  body: object;
  /** The pages of a site up to which it is asked by itself, where that takes more than resolving them. */
  byItself?: number;
}

/** What saving an edit would change on pages, for anyone at any time from now on. */
export function Weighed<T extends { name: string }>({
  editing,
  to,
  body,
  byItself: most = BY_ITSELF,
}: Props<T>) {
  const site = useSite();
  const lacking = useLacking("editor");
  const now = useSteady(body);
  const asked = useDebounced(now, restOn(site.pages, RESTS));
  const [wantedFor, setWantedFor] = useState<object | null>(null);
  const byItself = site.pages <= most;
  const wanted = editing.changed && !editing.busy && !lacking && (byItself || wantedFor === asked);
  const found = useQuery({
    ...weighedQuery(site.slug, to, asked, editing.version),
    enabled: wanted,
  });
  if (!editing.changed || lacking || found.isError) return null;
  if (!byItself && wantedFor !== now) {
    return (
      <div className="weighed row">
        <Button variant="text" onClick={() => setWantedFor(now)}>
          What does saving change on pages?
        </Button>
      </div>
    );
  }
  const impact = found.data;
  const busy = found.isFetching || asked !== now;
  return (
    <div className="weighed row" role="status" aria-label="What saving changes" aria-busy={busy}>
      {!impact && <span className="mute">Working out what saving changes on pages …</span>}
      {impact?.pages === 0 && (
        <span className="mute">Saving changes nothing to be seen, for anyone at any time.</span>
      )}
      {impact && impact.pages > 0 && (
        <>
          <span>
            {impact.shifts.length + impact.redraws.length === 0 ? (
              <>
                Saving changes content or facts of <b>{count(impact.pages, "page")}</b>.
              </>
            ) : (
              <>
                Saving changes how <b>{count(impact.pages, "page")}</b>{" "}
                {impact.pages === 1 ? "looks" : "look"}.
              </>
            )}
          </span>
          <Opening text="Which, and how" about="What saving changes">
            {() => <Impact impact={impact} published />}
          </Opening>
        </>
      )}
    </div>
  );
}
