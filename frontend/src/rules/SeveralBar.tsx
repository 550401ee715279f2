import Button from "@mui/material/Button";
import { useState } from "react";
import { answer, api, type Shapes } from "../api/client";
import { PriorityField } from "../parts/controls";
import { useSite } from "../parts/site";
import { useAct } from "../parts/useAct";
import { count } from "../parts/words";
import { GroupsBar } from "./GroupsBar";
import type { Group } from "./groups";

type Doing = Shapes["SeveralRequest"]["do"];

const DONE: Record<Doing, string> = {
  "switch-on": "Switched on",
  "switch-off": "Switched off",
  prioritise: "Gave a priority to",
  remove: "Removed",
};

interface Props {
  ids: number[];
  groups: Group[];
  onGroups: (groups: Group[]) => void;
  all: () => void;
  onClose: () => void;
}

/** The same done to several rules at once, as one edit that is undone at once. */
export function SeveralBar({ ids, groups, onGroups, all, onClose }: Props) {
  const site = useSite();
  const act = useAct();
  const [priority, setPriority] = useState(0);
  const run = (what: Doing) =>
    act(async () => {
      const params = { path: { site: site.slug } };
      const body = { ids, do: what, priority };
      const done = await answer(api.POST("/api/sites/{site}/rules/several", { params, body }));
      if (what === "remove") onClose();
      return `${DONE[what]} ${count(done.rules, "rule")}. In the draft, not live yet.`;
    });
  const doing = (what: Doing, name: string) => (
    <Button
      key={what}
      variant="outlined"
      size="small"
      color={what === "remove" ? "error" : "primary"}
      disabled={ids.length === 0}
      title={ids.length ? undefined : "Waits for rules that are picked"}
      onClick={() => run(what)}
    >
      {name}
    </Button>
  );
  return (
    <section className="several" aria-label="Several rules">
      <div className="row">
        <b className="grow">{count(ids.length, "rule")} picked</b>
        <Button variant="text" size="small" onClick={all}>
          All shown
        </Button>
        <Button variant="text" size="small" color="inherit" onClick={onClose}>
          Close
        </Button>
      </div>
      <div className="row">
        {doing("switch-on", "On")}
        {doing("switch-off", "Off")}
        {doing("remove", "Remove")}
      </div>
      <div className="row">
        <PriorityField label="Priority for them" value={priority} onChange={setPriority} />
        {doing("prioritise", "Give this priority")}
      </div>
      <GroupsBar groups={groups} ids={ids} onChange={onGroups} />
    </section>
  );
}
