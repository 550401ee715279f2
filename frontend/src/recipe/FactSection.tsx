import Button from "@mui/material/Button";
import type { Shapes } from "../api/client";
import { count, figure } from "../parts/words";
import { PlaceRow } from "./PlaceRow";
import { bare, factName, type Line, type Place, placeWords } from "./places";

type Proposed = Shapes["ProposedPlace"];

interface Props {
  line: Line;
  own: boolean;
  told: number;
  pages: number;
  chosen: boolean;
  /** On how many of the tried pages each place tells the fact. */
  tells: number[] | undefined;
  proposed: Proposed[];
  asked: number;
  problem: (place: number) => string | undefined;
  onChoose: () => void;
  onChange: (line: Line) => void;
  onReset: () => void;
}

/** One fact: the places in which it is looked for in turn, and those that its pages propose. */
export function FactSection({
  line,
  own,
  told,
  pages,
  chosen,
  tells,
  proposed,
  asked,
  problem,
  onChoose,
  onChange,
  onReset,
}: Props) {
  const name = factName(line.fact);
  const set = (places: Place[]) => {
    onChoose();
    onChange({ ...line, places });
  };
  const known = line.places.map((place) => JSON.stringify(bare(place)));
  const open = proposed.filter((one) => !known.includes(JSON.stringify(bare(one.place))));
  return (
    <section className={chosen ? "recipe-fact on" : "recipe-fact"} aria-label={name}>
      <div className="row">
        <h3>{name}</h3>
        <span className="mute grow">
          {own ? "as this site says" : "as it comes"} · on {figure(told)} of {count(pages, "page")}
        </span>
        {own && (
          <Button variant="text" color="inherit" onClick={onReset} aria-label={`As it comes: ${name}`}>
            As it comes
          </Button>
        )}
        <Button variant="text" aria-pressed={chosen} aria-label={`Show ${name}`} onClick={onChoose}>
          Show
        </Button>
      </div>
      {own && !chosen && (
        <p className="mute clip fact-short">
          {line.places.length ? line.places.map(placeWords).join(", then ") : "Told nowhere."}
        </p>
      )}
      {chosen && (
        <>
          <ol className="fact-places">
            {line.places.map((place, number) => (
              <PlaceRow
                // biome-ignore lint/suspicious/noArrayIndexKey: a place is its number while it is typed
                key={`${number} ${line.places.length}`}
                name={`place ${number + 1} of ${name}`}
                fact={line.fact}
                number={number}
                last={number === line.places.length - 1}
                place={place}
                tells={tells?.[number]}
                problem={problem(number)}
                onChange={(next) => set(line.places.map((one, at) => (at === number ? next : one)))}
                onMove={(by) => set(moved(line.places, number, by))}
                onRemove={() => set(line.places.filter((_, at) => at !== number))}
              />
            ))}
          </ol>
          <button
            type="button"
            className="token add"
            aria-label={`+ place of ${name}`}
            onClick={() => set([...line.places, { at: "element", of: "" }])}
          >
            + place
          </button>
        </>
      )}
      {open.map((one) => (
        <div className="fact-proposal" key={JSON.stringify(one.place)}>
          <span className="where" title={placeWords(one.place)}>
            {placeWords({ ...one.place, take: "" })}
            {one.place.take && <span className="mono mute"> {one.place.take}</span>}
          </span>
          <span className="mute what" title={one.examples.join(" · ")}>
            {one.pages} of {asked}
            {one.more > 0 && one.more < one.pages && `, ${one.more} that lack it`}: {one.examples.join(" · ")}
            {one.distinct > one.examples.length && " …"}
          </span>
          <Button
            variant="outlined"
            aria-label={`${one.more > 0 ? "Add" : "Put first"} for ${name}: ${placeWords(one.place)}`}
            title={one.more > 0 ? "Looked at last, where nothing else tells it" : "Looked at first"}
            onClick={() => set(one.more > 0 ? [...line.places, one.place] : [one.place, ...line.places])}
          >
            {one.more > 0 ? "Add" : "Put first"}
          </Button>
        </div>
      ))}
    </section>
  );
}

function moved(places: Place[], number: number, by: number): Place[] {
  const next = [...places];
  const [place] = next.splice(number, 1);
  if (place) next.splice(number + by, 0, place);
  return next;
}
