import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Shapes } from "../api/client";
import { rulesQuery, trialQuery } from "../api/ruleQueries";
import { PriorityField } from "../parts/controls";
import { Opening } from "../parts/Opening";
import { useLens, useSite } from "../parts/site";
import { useDebounced } from "../parts/useDebounced";
import { count } from "../parts/words";
import { useChangeRule } from "../rules/useChangeRule";

type Row = Shapes["RuleRow"];

/** A rule switched off, or given another priority, from where it is met; what else that changes is told before. */
export function RuleHere({ id, name }: { id: number; name: string }) {
  return (
    <Opening text="Change" size="small" aria-label={`Change ${name}`} about={`Change ${name}`}>
      {(close) => <Changes id={id} onDone={close} />}
    </Opening>
  );
}

function Changes({ id, onDone }: { id: number; onDone: () => void }) {
  const site = useSite();
  const row = useQuery(rulesQuery(site.slug, useLens())).data?.find((one) => one.id === id);
  if (!row) return null;
  return <ChangesOf row={row} onDone={onDone} />;
}

function ChangesOf({ row, onDone }: { row: Row; onDone: () => void }) {
  const change = useChangeRule();
  const saved = row.rule.priority ?? 0;
  const on = row.rule.on ?? true;
  const [priority, setPriority] = useState(saved);
  const raised = { ...row.rule, priority: useDebounced(priority, 120) };
  const turned = { ...row.rule, on: !on };
  const turn = `Switch it ${on ? "off" : "on"}`;
  const carryOut = (tree: Shapes["RuleTree"], said: string) => {
    onDone();
    change(row.id, tree, null, said);
  };
  return (
    <div className="rule-here">
      <b>{row.rule.name}</b>
      <div className="row">
        <Button
          variant="outlined"
          onClick={() => carryOut(turned, `Switched ${row.rule.name} ${on ? "off" : "on"}`)}
        >
          {turn}
        </Button>
        <WouldChange row={row} tree={turned} />
      </div>
      <div className="row">
        <PriorityField label={`Priority of ${row.rule.name}`} value={priority} onChange={setPriority} />
        <Button
          variant="outlined"
          disabled={priority === saved}
          title={priority === saved ? "Waits for another priority" : undefined}
          onClick={() => carryOut({ ...row.rule, priority }, `Gave ${row.rule.name} priority ${priority}`)}
        >
          Give it this priority
        </Button>
        {raised.priority !== saved && <WouldChange row={row} tree={raised} />}
      </div>
    </div>
  );
}

/** On how many pages a change would be seen, by anybody at any time. */
function WouldChange({ row, tree }: { row: Row; tree: Shapes["RuleTree"] }) {
  const site = useSite();
  const found = useQuery(trialQuery(site.slug, { rule: tree, id: row.id }));
  if (found.isError) return <span className="field-error">{found.error.message}</span>;
  if (!found.data) return <span aria-busy="true" />;
  return (
    <span className="mute" role="status" title={found.data.paths.join("\n")}>
      changes {count(found.data.pages, "page")}
      {found.data.untold > 0 && `, ${found.data.untold} more cannot be told`}
    </span>
  );
}
