import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { rulesQuery } from "../api/ruleQueries";
import { Opening } from "../parts/Opening";
import { useLens, useSite } from "../parts/site";
import { ChooseRule } from "./ChooseRule";
import { useReachOf } from "./useReachOf";

/** This page given to a rule that is there, or taken from one of those that act here, by their ids. */
export function ReachHere({ path, acting }: { path: string; acting: number[] }) {
  const site = useSite();
  const rules = useQuery(rulesQuery(site.slug, useLens())).data;
  const reachOf = useReachOf();
  const left = rules?.filter((row) => acting.includes(row.id) && row.pin === null) ?? [];
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
      {left.map((row) => (
        <Button key={row.id} variant="outlined" onClick={() => reachOf.leaveOut(row, [path], 1)}>
          Leave this page out of {row.rule.name}
        </Button>
      ))}
    </>
  );
}
