import Button from "@mui/material/Button";
import Popover from "@mui/material/Popover";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { rulesQuery } from "../api/queries";
import { useLens, useSite } from "../parts/site";
import { ChooseRule } from "./ChooseRule";
import { useReachOf } from "./useReachOf";

/** This page given to a rule that is there, or taken from the one that decides here. */
export function ReachHere({ path, decider }: { path: string; decider: number | null }) {
  const site = useSite();
  const rules = useQuery(rulesQuery(site.slug, useLens())).data;
  const reachOf = useReachOf();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const deciding = rules?.find((row) => row.id === decider && row.pin === null);
  return (
    <>
      <Button variant="outlined" aria-haspopup="dialog" onClick={(event) => setAnchor(event.currentTarget)}>
        Add to a rule
      </Button>
      {deciding && (
        <Button variant="outlined" onClick={() => reachOf.leaveOut(deciding, [path], 1)}>
          Leave this page out of {deciding.rule.name}
        </Button>
      )}
      <Popover open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        <div className="popover" role="dialog" aria-label={`Add ${path} to a rule`}>
          <p className="mute">The rule that is chosen reaches this page too; all its other pages stay.</p>
          <ChooseRule
            label="Rule to add this page to"
            paths={[path]}
            adding
            onChoose={(row, pages) => {
              setAnchor(null);
              reachOf.add(row, [path], pages);
            }}
          />
        </div>
      </Popover>
    </>
  );
}
