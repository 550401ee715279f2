import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import type { Shapes } from "../api/client";
import { rulesQuery } from "../api/ruleQueries";
import { Opening } from "../parts/Opening";
import { useLens, usePieces, useSite } from "../parts/site";
import { count, outcomeText, settingOf, targetName } from "../parts/words";
import type { Demand } from "./guardTree";
import { useGuardEdits } from "./useGuards";

interface Props {
  path: string;
  target: string;
  outcome: Shapes["OutcomeInfo"];
}

/** What stands in a cell kept so by a guard: on this page, or on all that the rule which decides reaches. */
export function KeepSo({ path, target, outcome }: Props) {
  const site = useSite();
  const { bySlug } = usePieces();
  const edits = useGuardEdits();
  const row = useQuery(rulesQuery(site.slug, useLens())).data?.find((one) => one.id === outcome.by);
  const demand = demandOf(target, outcome);
  if (!demand) return null;
  const said = `${targetName(target)}: ${outcomeText(outcome, (slug) => bySlug.get(slug)?.name)}`;
  const make = (close: () => void, condition: Shapes["ConditionTree"], where: string) => {
    close();
    edits.make({ name: `${said}, ${where}`.slice(0, 80), condition, demand });
  };
  return (
    <Opening text="Keep it so" variant="outlined" about={`Keep it so: ${said}`}>
      {(close) => (
        <>
          <p className="mute">
            A guard: whatever is edited later, it is told when this is not so any more, and nothing is
            published then unasked.
          </p>
          <div className="row" style={{ flexWrap: "wrap" }}>
            <Button
              variant="outlined"
              onClick={() => make(close, { include: `page:${quoted(path)}` }, `on ${path}`)}
            >
              On this page
            </Button>
            {row && row.reach > 1 && (
              <Button
                variant="outlined"
                onClick={() => make(close, row.rule.condition ?? {}, `where ${row.rule.name} applies`)}
              >
                On {count(row.reach, "page")} of {row.rule.name}
              </Button>
            )}
          </div>
        </>
      )}
    </Opening>
  );
}

/** A value as queries write it, in quotes where it has what means something there. */
const quoted = (value: string) =>
  /^[\w/.~-]+$/.test(value) ? value : `"${value.replace(/["\\]/g, "\\$&")}"`;

/** What an outcome is, as something to ask for; null for what is not ours to ask. */
function demandOf(target: string, outcome: Shapes["OutcomeInfo"]): Demand | null {
  if (outcome.state === "locked") return null;
  const setting = settingOf(target);
  if (setting) return outcome.value === null ? null : { is: "is", setting, values: [outcome.value] };
  if (target === "template") return outcome.pieces.length ? { is: "is", templates: outcome.pieces } : null;
  return outcome.pieces.length
    ? { is: "is", slot: target, pieces: outcome.pieces }
    : { is: "bare", slot: target };
}
