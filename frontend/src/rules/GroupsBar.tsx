import Button from "@mui/material/Button";
import Chip from "@mui/material/Chip";
import { useState } from "react";
import { LabelledField } from "../parts/controls";
import { type Group, putIn, takenOut } from "./groups";

interface Props {
  groups: Group[];
  /** The rules that are picked. */
  ids: number[];
  onChange: (groups: Group[]) => void;
}

/** The groups that a person made: all picked rules are put into one, or taken out where all of them are in it. */
export function GroupsBar({ groups, ids, onChange }: Props) {
  const [name, setName] = useState("");
  const holds = (group: Group) => ids.length > 0 && ids.every((id) => group.rules.includes(id));
  const waits = ids.length === 0 ? "Waits for rules that are picked" : name.trim() ? "" : "Waits for a name";
  return (
    <div className="row" style={{ flexWrap: "wrap" }}>
      {groups.map((group) => (
        <Chip
          key={group.name}
          size="small"
          label={group.name}
          variant={holds(group) ? "filled" : "outlined"}
          color={holds(group) ? "primary" : "default"}
          aria-pressed={holds(group)}
          disabled={ids.length === 0}
          onClick={() => onChange((holds(group) ? takenOut : putIn)(groups, group.name, ids))}
        />
      ))}
      <div style={{ width: 120 }}>
        <LabelledField
          label="Name for a group"
          placeholder="Name for a group"
          value={name}
          onChange={setName}
        />
      </div>
      <Button
        variant="text"
        size="small"
        disabled={waits !== ""}
        title={waits || undefined}
        onClick={() => {
          onChange(putIn(groups, name.trim(), ids));
          setName("");
        }}
      >
        Group them
      </Button>
    </div>
  );
}
