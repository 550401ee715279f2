import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { rulesQuery } from "../api/ruleQueries";
import { Opening } from "../parts/Opening";
import { useLens, useSite } from "../parts/site";
import { ChooseRule } from "./ChooseRule";
import { useReachOf } from "./useReachOf";

/** This page given to a rule that is there, or taken from the one that decides here. */
export function ReachHere({ path, decider }: { path: string; decider: number | null }) {
  const site = useSite();
  const rules = useQuery(rulesQuery(site.slug, useLens())).data;
  const reachOf = useReachOf();
  const deciding = rules?.find((row) => row.id === decider && row.pin === null);
  return (
    <>
      <Opening text="Add to a rule" variant="outlined" about={`Add ${path} to a rule`}>
        {(close) => (
          <>
            <p className="mute">The rule that is chosen reaches this page too; all its other pages stay.</p>
            <ChooseRule
              label="Rule to add this page to"
              paths={[path]}
              adding
              onChoose={(row, pages) => {
                close();
                reachOf.add(row, [path], pages);
              }}
            />
          </>
        )}
      </Opening>
      {deciding && (
        <Button variant="outlined" onClick={() => reachOf.leaveOut(deciding, [path], 1)}>
          Leave this page out of {deciding.rule.name}
        </Button>
      )}
    </>
  );
}
