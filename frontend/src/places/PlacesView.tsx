import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { Shapes } from "../api/client";
import { placesQuery } from "../api/queries";
import { LabelledField } from "../parts/controls";
import { PieceName } from "../parts/PieceName";
import { useAddress, useLens, useLinkTo, usePieces, useSite } from "../parts/site";
import { count, figure, targetName } from "../parts/words";
import "./places.css";

type Place = Shapes["PlaceInfo"];
const MOST_SHOWN = 4;

/** Every place of the site, used or not: what has it, who owns it, what it shows, and on how many pages. */
export function PlacesView() {
  const site = useSite();
  const places = useQuery(placesQuery(site.slug, useLens()));
  const linkTo = useLinkTo();
  const { get, set } = useAddress();
  const word = get("q").toLowerCase();
  const fitting = (places.data ?? []).filter((place) => place.slot.includes(word));
  return (
    <div className="work">
      <div className="bar">
        <Link to={linkTo("pieces")}>All pieces</Link>
        <div style={{ width: 300 }}>
          <LabelledField
            label="Find places"
            placeholder="Find places"
            value={get("q")}
            onChange={(q) => set({ q })}
          />
        </div>
        <span className="mute" role="status">
          {places.data && `${count(fitting.length, "place")}, through this lens`}
        </span>
      </div>
      <div className="places-frame">
        <table className="places">
          <thead>
            <tr>
              <th scope="col">Place</th>
              <th scope="col">What has it</th>
              <th scope="col">Pages with it</th>
              <th scope="col">Shows something on</th>
              <th scope="col">What it shows</th>
              <th scope="col">Owned elsewhere</th>
              <th scope="col">Rules</th>
            </tr>
          </thead>
          <tbody>
            {fitting.map((place) => (
              <PlaceRow key={place.slot} place={place} />
            ))}
          </tbody>
        </table>
      </div>
    </div>
  );
}

function PlaceRow({ place }: { place: Place }) {
  const { bySlug } = usePieces();
  const linkTo = useLinkTo();
  const named = (slugs: string[]) => slugs.map((slug) => bySlug.get(slug)?.name ?? slug).join(", ");
  const has = [
    place.templates.length > 0 && `${count(place.templates.length, "template")}: ${named(place.templates)}`,
    place.pieces.length > 0 && named(place.pieces),
    place.menus.length > 0 && `the menu ${place.menus.join(", ")}`,
    place.contents > 0 && `the content of ${count(place.contents, "page")}`,
  ].filter(Boolean);
  const shown = place.shown.slice(0, MOST_SHOWN);
  return (
    <tr className={place.seated === 0 ? "unused" : undefined}>
      <th scope="row">
        {targetName(place.slot)} <span className="mono mute">{place.slot}</span>
      </th>
      <td className="clip-cell" title={has.join(" · ")}>
        {has.join(" · ") || "nothing has it"}
      </td>
      <td className="number">{figure(place.seated)}</td>
      <td className="number">{place.shows ? figure(place.shows) : "–"}</td>
      <td>
        {shown.map((one) => (
          <Link key={one.slug} to={linkTo(`pieces/${one.slug}`)} className="shown-piece">
            <PieceName slug={one.slug} /> <span className="mute">{figure(one.pages)}</span>
          </Link>
        ))}
        {place.shown.length > MOST_SHOWN && (
          <span className="mute">and {place.shown.length - MOST_SHOWN} more</span>
        )}
      </td>
      <td>
        {place.locked > 0 &&
          `${place.owners.map((one) => one.owner).join(", ") || "another system"}, on ${count(place.locked, "page")}`}
      </td>
      <td className="number">{place.rules || "–"}</td>
    </tr>
  );
}
