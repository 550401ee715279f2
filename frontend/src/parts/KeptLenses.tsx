import Button from "@mui/material/Button";
import Chip from "@mui/material/Chip";
import { useState } from "react";
import { LabelledField } from "./controls";
import { useLasting } from "./memory";
import { useAddress, useLens } from "./site";

interface KeptLens {
  name: string;
  visitor: string;
  at: string;
}

/** Lenses that were given a name, to look through again. */
export function KeptLenses() {
  const lens = useLens();
  const { set } = useAddress();
  const [kept, setKept] = useLasting<KeptLens[]>("lenses", []);
  const [name, setName] = useState("");
  const same = (one: KeptLens) => one.visitor === lens.visitor && one.at === lens.at;
  const keep = () => {
    setKept([...kept.filter((one) => one.name !== name.trim()), { name: name.trim(), ...lens }]);
    setName("");
  };
  return (
    <fieldset className="lens-field">
      <legend className="lens-label">Lenses with a name</legend>
      <div className="row" style={{ flexWrap: "wrap" }}>
        {kept.map((one) => (
          <Chip
            key={one.name}
            size="small"
            label={one.name}
            variant={same(one) ? "filled" : "outlined"}
            color={same(one) ? "primary" : "default"}
            aria-pressed={same(one)}
            onClick={() => set({ visitor: one.visitor || null, at: one.at || null })}
            onDelete={() => setKept(kept.filter((other) => other !== one))}
          />
        ))}
        <div style={{ width: 150 }}>
          <LabelledField
            label="Name for this lens"
            placeholder="Name for this lens"
            value={name}
            onChange={setName}
          />
        </div>
        <Button
          variant="text"
          disabled={!name.trim()}
          title={name.trim() ? undefined : "Waits for a name"}
          onClick={keep}
        >
          Keep it
        </Button>
      </div>
    </fieldset>
  );
}
