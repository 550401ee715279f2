import Button from "@mui/material/Button";
import Chip from "@mui/material/Chip";
import { useState } from "react";
import { LabelledField } from "./controls";

interface Props<T> {
  kept: (T & { name: string })[];
  /** What is there now, to be kept under a name. */
  now: T;
  same: (one: T, other: T) => boolean;
  /** How the field for the name is called: "Name for this lens". */
  label: string;
  /** What keeping waits for besides a name; empty where nothing stands in its way. */
  waits?: string;
  onUse: (one: T) => void;
  onChange: (kept: (T & { name: string })[]) => void;
}

/** Things that were given a name, to come back to. */
export function KeptNames<T>({ kept, now, same, label, waits = "", onUse, onChange }: Props<T>) {
  const [name, setName] = useState("");
  const keep = () => {
    onChange([...kept.filter((one) => one.name !== name.trim()), { ...now, name: name.trim() }]);
    setName("");
  };
  const reason = waits || (name.trim() ? "" : "Waits for a name");
  return (
    <div className="row" style={{ flexWrap: "wrap" }}>
      {kept.map((one) => (
        <Chip
          key={one.name}
          size="small"
          label={one.name}
          variant={same(one, now) ? "filled" : "outlined"}
          color={same(one, now) ? "primary" : "default"}
          aria-pressed={same(one, now)}
          onClick={() => onUse(one)}
          onDelete={() => onChange(kept.filter((other) => other !== one))}
        />
      ))}
      <div style={{ width: 170 }}>
        <LabelledField label={label} placeholder={label} value={name} onChange={setName} />
      </div>
      <Button variant="text" disabled={reason !== ""} title={reason || undefined} onClick={keep}>
        Keep it
      </Button>
    </div>
  );
}
