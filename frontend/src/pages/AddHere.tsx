import Button from "@mui/material/Button";
import Popover from "@mui/material/Popover";
import { useState } from "react";
import { ChoosePiece } from "../parts/ChoosePiece";
import { Segments } from "../parts/controls";
import { kindFor, targetName } from "../parts/words";
import type { Pins } from "./usePins";

/** One widget added to a slot of this page alone, at the top or the bottom; all else there stays. */
export function AddHere({ path, target, pins }: { path: string; target: string; pins: Pins }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [where, setWhere] = useState<"prepend" | "append">("append");
  const usual = kindFor(target);
  // Beside widgets an aside takes sidebars too.
  const kinds = usual === "sidebar" ? ["widget", usual] : ["widget"];
  return (
    <>
      <Button variant="outlined" aria-haspopup="dialog" onClick={(event) => setAnchor(event.currentTarget)}>
        Add a widget here
      </Button>
      <Popover open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        <div className="popover" role="dialog" aria-label={`Add to ${targetName(target)} on ${path}`}>
          <p className="mute">For this page alone; what stands there stays.</p>
          <Segments
            label="Where it stands"
            value={where}
            options={[["prepend", "at the top"] as const, ["append", "at the bottom"] as const]}
            onChange={setWhere}
          />
          <ChoosePiece
            kinds={kinds}
            label="Widget to add"
            onChoose={(piece) => {
              setAnchor(null);
              pins.pin(path, { do: where, slot: target, piece }, null);
            }}
          />
        </div>
      </Popover>
    </>
  );
}
