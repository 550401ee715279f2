import Button from "@mui/material/Button";
import Popover from "@mui/material/Popover";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { treeQuery } from "../api/queries";
import { useAllColumns, usePieces, useSite } from "../parts/site";
import { areaBoxes } from "../parts/templateAreas";
import { outcomeText, targetName } from "../parts/words";

interface Props {
  /** A page that the rule reaches, of which the map is drawn. */
  path: string;
  onChoose: (target: string) => void;
}

/** A place chosen by pointing at it, on a small map of a page as it stands now. */
export function PlaceMap({ path, onChoose }: Props) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const choose = (target: string) => {
    setAnchor(null);
    onChoose(target);
  };
  return (
    <>
      <button
        type="button"
        className="token add"
        aria-haspopup="dialog"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        + at a place on the map
      </button>
      <Popover open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        <div className="popover" role="dialog" aria-label="Places of the page">
          <PageMap path={path} onChoose={choose} />
        </div>
      </Popover>
    </>
  );
}

function PageMap({ path, onChoose }: Props) {
  const site = useSite();
  const { bySlug } = usePieces();
  const tree = useQuery(treeQuery(site.slug, site.inventory_version)).data;
  const columns = useAllColumns();
  const number = tree?.paths.indexOf(path) ?? -1;
  if (!tree || columns.length === 0 || number < 0)
    return <p className="mute">Waits for a page that the rule reaches.</p>;
  const outcomes = new Map(
    columns.map((column) => [column.target, column.outcomes[column.codes[number] ?? 0]]),
  );
  const template = bySlug.get(outcomes.get("template")?.pieces[0] ?? "");
  const boxes = areaBoxes(template?.content?.areas);
  const drawn = new Set(boxes.map((box) => box.name));
  const now = (slot: string) => {
    const outcome = outcomes.get(slot);
    return outcome ? outcomeText(outcome, (slug) => bySlug.get(slug)?.name) : "";
  };
  return (
    <>
      <p className="mute">
        {tree.titles[number]} <span className="mono">{path}</span>, in {template?.name ?? "no template"}
      </p>
      <div className="place-map">
        {boxes.map((box) => {
          const at = {
            left: `${box.x * 100}%`,
            top: `${box.y * 100}%`,
            width: `${box.width * 100}%`,
            height: `${box.height * 100}%`,
          };
          return box.name === "content" ? (
            <span key={box.name} className="place content" style={at}>
              the page itself
            </span>
          ) : (
            <button
              key={box.name}
              type="button"
              className="place"
              style={at}
              title={`${targetName(box.name)}: ${now(box.name)}`}
              onClick={() => onChoose(box.name)}
            >
              <b className="clip">{targetName(box.name)}</b>
              <small className="clip">{now(box.name)}</small>
            </button>
          );
        })}
      </div>
      <p className="mute">
        <Button variant="text" onClick={() => onChoose("template")}>
          The template itself
        </Button>
        {site.slots
          .filter((slot) => !drawn.has(slot))
          .map((slot) => (
            <Button
              key={slot}
              variant="text"
              title={`Not in this template; now: ${now(slot)}`}
              onClick={() => onChoose(slot)}
            >
              {targetName(slot)}
            </Button>
          ))}
      </p>
    </>
  );
}
