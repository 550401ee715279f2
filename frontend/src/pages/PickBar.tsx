import Button from "@mui/material/Button";
import Popover from "@mui/material/Popover";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import type { Shapes } from "../api/client";
import { suggestionsQuery } from "../api/queries";
import { ChoosePiece } from "../parts/ChoosePiece";
import { useSite } from "../parts/site";
import { count, KIND_ORDER } from "../parts/words";

type Suggestion = Shapes["SuggestionInfo"];

interface Props {
  paths: string[];
  /** `where` names the pages in a few words. */
  onPut: (include: string, exclude: string, where: string, piece: string) => void;
  onDrop: () => void;
}

/** Conditions offered beside the picked pages themselves. */
const MOST_OFFERED = 3;

/** What the picked pages have in common, and the way from there to a rule. What is picked is what is meant. */
export function PickBar({ paths, onPut, onDrop }: Props) {
  const site = useSite();
  const suggestions = useQuery(suggestionsQuery(site.slug, paths));
  const [wider, setWider] = useState("");
  const [choosing, setChoosing] = useState(false);
  const button = useRef<HTMLButtonElement>(null);
  const found = suggestions.data ?? [];
  const exact = found.find((one) => !one.lasting);
  const offered = found.filter((one) => one.lasting).slice(0, MOST_OFFERED);
  const chosen = offered.find((one) => conditionText(one) === wider) ?? exact;
  const pages = chosen ? paths.length + chosen.adds - chosen.misses : paths.length;
  const option = (one: Suggestion, text: string, about: string) => (
    <button
      type="button"
      key={text}
      className={one.lasting ? "pick-option" : "pick-option whole"}
      aria-pressed={one === chosen}
      title={[conditionText(one), about, one.adds ? examples(one) : ""].filter(Boolean).join("\n")}
      onClick={() => setWider(one.lasting ? conditionText(one) : "")}
    >
      <span className="clip">{text}</span>
      {about && <small>{about}</small>}
    </button>
  );
  return (
    <section className="pick-bar" aria-label="Picked pages">
      <b style={{ whiteSpace: "nowrap" }}>{count(paths.length, "page")} picked</b>
      <fieldset className="pick-options" aria-label="Which pages are meant">
        {exact && option(exact, exactly(paths.length), "")}
        {offered.map((one) => option(one, conditionText(one), describe(one)))}
      </fieldset>
      {suggestions.isError && <span role="alert">{suggestions.error.message}</span>}
      <span className="grow" />
      <Button variant="text" color="inherit" onClick={onDrop}>
        Drop
      </Button>
      <Button
        ref={button}
        variant="contained"
        className="amber"
        disabled={!chosen}
        title={chosen ? undefined : "Waits for what these pages have in common"}
        onClick={() => setChoosing(true)}
      >
        Put a piece on {count(pages, "page")}
      </Button>
      <Popover
        open={choosing}
        anchorEl={button.current}
        onClose={() => setChoosing(false)}
        anchorOrigin={{ vertical: "top", horizontal: "right" }}
        transformOrigin={{ vertical: "bottom", horizontal: "right" }}
      >
        <div className="popover" role="dialog" aria-label={`Put a piece on ${count(pages, "page")}`}>
          <ChoosePiece
            kinds={KIND_ORDER}
            label="Piece to put on these pages"
            onChoose={(piece) => chosen && onPut(chosen.include, chosen.exclude, where(chosen, paths), piece)}
          />
        </div>
      </Popover>
    </section>
  );
}

const exactly = (number: number) => (number === 1 ? "exactly this page" : `exactly these ${number} pages`);

const conditionText = ({ include, exclude }: Suggestion) =>
  exclude ? `${include} without ${exclude}` : include;

/** What a condition comes to, against what is picked. */
function describe({ adds, misses }: Suggestion): string {
  if (misses) return `− ${count(misses, "page")}${adds ? `, + ${adds}` : ""}`;
  return adds ? `+ ${count(adds, "page")}` : "the same, and later ones";
}

const examples = ({ adds, examples: named }: Suggestion) =>
  `adds ${named
    .slice(0, 3)
    .map((page) => page.title)
    .join(", ")}${adds > 3 ? " …" : ""}`;

/** The pages in a few words, for the name of a rule. */
function where(chosen: Suggestion, paths: string[]): string {
  if (chosen.lasting) return conditionText(chosen);
  return paths.length > 2 ? `${paths.length} pages` : paths.join(" and ");
}
