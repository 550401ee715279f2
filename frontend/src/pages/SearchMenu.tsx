import Button from "@mui/material/Button";
import Popover from "@mui/material/Popover";
import { type ReactNode, useState } from "react";
import { KeptNames } from "../parts/KeptNames";
import { useLasting } from "../parts/memory";

interface Query {
  text: string;
}

interface Props {
  text: string;
  onUse: (text: string) => void;
}

/** Searches that were given a name, to be made again. */
export function KeptSearches({ text, onUse }: Props) {
  const [kept, setKept] = useLasting<(Query & { name: string })[]>("searches", []);
  return (
    <Opening name="Searches" about="Searches with a name">
      {() => (
        <KeptNames<Query>
          kept={kept}
          now={{ text: text.trim() }}
          same={(one, other) => one.text === other.text}
          label="Name for this search"
          waits={text.trim() ? "" : "Waits for a search"}
          onUse={(one) => onUse(one.text)}
          onChange={setKept}
        />
      )}
    </Opening>
  );
}

interface OpeningProps {
  name: string;
  about: string;
  outlined?: boolean;
  children: (close: () => void) => ReactNode;
}

/** A button of the bar that opens a box. */
export function Opening({ name, about, outlined = false, children }: OpeningProps) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const close = () => setAnchor(null);
  return (
    <>
      <Button
        variant={outlined ? "outlined" : "text"}
        aria-haspopup="dialog"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        {name}
      </Button>
      <Popover open={anchor !== null} anchorEl={anchor} onClose={close}>
        <div className="popover" role="dialog" aria-label={about}>
          {children(close)}
        </div>
      </Popover>
    </>
  );
}
