import Button from "@mui/material/Button";
import Popover from "@mui/material/Popover";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import type { Shapes } from "../api/client";
import { suggestionsQuery } from "../api/queries";
import { ChoosePiece } from "../parts/ChoosePiece";
import { useSite } from "../parts/site";
import { count, KIND_ORDER } from "../parts/words";

interface Props {
  paths: string[];
  onPut: (include: string, exclude: string, piece: string) => void;
  onDrop: () => void;
}

/** What the picked pages have in common, and the way from there to a rule. */
export function PickBar({ paths, onPut, onDrop }: Props) {
  const site = useSite();
  const suggestions = useQuery(suggestionsQuery(site.slug, paths));
  const [number, setNumber] = useState(0);
  const [choosing, setChoosing] = useState(false);
  const button = useRef<HTMLButtonElement>(null);
  const options = suggestions.data ?? [];
  const chosen = options[Math.min(number, options.length - 1)];
  return (
    <section className="pick-bar" aria-label="Picked pages">
      <b style={{ whiteSpace: "nowrap" }}>{count(paths.length, "page")} picked</b>
      {chosen && (
        <>
          <span style={{ whiteSpace: "nowrap" }}>these are</span>
          <select
            aria-label="Condition"
            value={Math.min(number, options.length - 1)}
            onChange={(event) => setNumber(Number(event.target.value))}
          >
            {options.map((option, place) => (
              <option key={optionText(option)} value={place}>
                {optionText(option)}
                {option.adds ? ` (and ${count(option.adds, "page")} more)` : ""}
              </option>
            ))}
          </select>
          <span className="clip">{describe(chosen)}</span>
        </>
      )}
      <span className="grow" />
      <Button variant="text" color="inherit" onClick={onDrop}>
        Drop
      </Button>
      <Button
        ref={button}
        variant="contained"
        className="amber"
        disabled={!chosen}
        onClick={() => setChoosing(true)}
      >
        Put a piece here
      </Button>
      <Popover
        open={choosing}
        anchorEl={button.current}
        onClose={() => setChoosing(false)}
        anchorOrigin={{ vertical: "top", horizontal: "right" }}
        transformOrigin={{ vertical: "bottom", horizontal: "right" }}
      >
        <div className="popover" role="dialog" aria-label="Put a piece here">
          <ChoosePiece
            kinds={KIND_ORDER}
            label="Piece to put on these pages"
            onChoose={(piece) => chosen && onPut(chosen.include, chosen.exclude, piece)}
          />
        </div>
      </Popover>
    </section>
  );
}

type Suggestion = Shapes["SuggestionInfo"];

const optionText = ({ include, exclude }: Suggestion) =>
  exclude ? `${include} without ${exclude}` : include;

function describe(suggestion: Suggestion): string {
  if (!suggestion.lasting) return "these pages alone, by hand";
  if (suggestion.misses) return `but for ${count(suggestion.misses, "page")} of those picked`;
  if (!suggestion.adds) return "exactly, today and later";
  const named = suggestion.examples.slice(0, 2).join(", ");
  return `and ${count(suggestion.adds, "page")} more: ${named}${suggestion.adds > 2 ? " …" : ""}`;
}
