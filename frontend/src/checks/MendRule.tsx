import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import type { Shapes } from "../api/client";
import { judgedQuery, rulesQuery, trialQuery } from "../api/ruleQueries";
import { Opening } from "../parts/Opening";
import { useLens, useSite } from "../parts/site";
import { count } from "../parts/words";
import { useChangeRule } from "../rules/useChangeRule";

interface Props {
  rule: number;
  /** The kind of finding that is to be mended. */
  check: string;
}

/** A finding about a rule mended in place, as one edit, whose impact stands beside it. */
export function MendRule({ rule, check }: Props) {
  return (
    <Opening text="Mend it" size="small" about="Mend it">
      {(close) => <Ways rule={rule} check={check} onDone={close} />}
    </Opening>
  );
}

function Ways({ rule, check, onDone }: Props & { onDone: () => void }) {
  const site = useSite();
  const lens = useLens();
  const row = useQuery(rulesQuery(site.slug, lens)).data?.find((one) => one.id === rule);
  const judged = useQuery({
    ...judgedQuery(site.slug, { rule: row?.rule ?? { name: "" }, id: rule, ...lens }),
    enabled: row !== undefined,
  });
  if (!row || !judged.data) return <span aria-busy="true">Looking for a way …</span>;
  const mendings = judged.data.flatMap((one) => (one.check === check && one.mending ? [one.mending] : []));
  // What is always so can be tried: a rule that does nothing as it is can be switched off.
  const off = { words: "Switch it off", tree: { ...row.rule, on: false } };
  return (
    <div className="mendings">
      <b>{row.rule.name}</b>
      {[...mendings, off].map((one) => (
        <Way key={one.words} row={row} words={one.words} tree={one.tree} onDone={onDone} />
      ))}
    </div>
  );
}

function Way({
  row,
  words,
  tree,
  onDone,
}: {
  row: Shapes["RuleRow"];
  words: string;
  tree: Shapes["RuleTree"];
  onDone: () => void;
}) {
  const site = useSite();
  const change = useChangeRule();
  // A judged rule has no name of its own in the answer.
  const mended = { ...tree, name: row.rule.name };
  const trial = useQuery(trialQuery(site.slug, { rule: mended, id: row.id })).data;
  return (
    <div className="row">
      <Button
        variant="outlined"
        onClick={() => {
          onDone();
          change(row.id, mended, null, `${words}: ${row.rule.name}`);
        }}
      >
        {words}
      </Button>
      <span className="mute" role="status">
        {trial ? `changes ${count(trial.pages, "page")}` : "…"}
      </span>
    </div>
  );
}
