import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { answer, api, type Shapes } from "../api/client";
import { startersQuery } from "../api/queries";
import { Frame } from "../parts/Frame";
import { useLinkTo, useSite } from "../parts/site";
import { useSeen } from "../parts/useSeen";
import { KIND_ORDER, kindsName } from "../parts/words";
import { DRAWN } from "./drawn";
import { NamedForm } from "./NamedForm";
import "./pieces.css";

/** What a piece can start from, drawn on this site, by kind. */
export function Starters() {
  const site = useSite();
  const linkTo = useLinkTo();
  const starters = useQuery(startersQuery(site.slug)).data ?? [];
  return (
    <div className="work">
      <div className="bar">
        <Link to={linkTo("pieces")}>All pieces</Link>
        <span className="mute">
          Each is drawn in this site's colours and fonts. What you start from it is yours.
        </span>
      </div>
      <div className="shelf">
        {KIND_ORDER.map((kind) => (
          <section key={kind} aria-label={kindsName(kind)}>
            <h2>{kindsName(kind)}</h2>
            <div
              className="pieces"
              style={{
                gridTemplateColumns: `repeat(auto-fill, minmax(min(100%, ${DRAWN[kind]?.column}px), 1fr))`,
              }}
            >
              {starters
                .filter((one) => one.kind === kind)
                .map((one) => (
                  <StarterCard key={one.slug} starter={one} />
                ))}
            </div>
          </section>
        ))}
      </div>
    </div>
  );
}

function StarterCard({ starter }: { starter: Shapes["StarterInfo"] }) {
  const site = useSite();
  const [card, seen] = useSeen<HTMLElement>();
  const drawn = DRAWN[starter.kind] ?? { width: 400, height: 300 };
  const make = (form: FormData) =>
    answer(
      api.POST("/api/sites/{site}/starters/{starter}", {
        params: { path: { site: site.slug, starter: starter.slug } },
        body: { name: String(form.get("name")) },
      }),
    );
  return (
    <section ref={card} className="piece-card starter" aria-label={starter.name}>
      <div inert style={{ width: "100%" }}>
        <Frame
          html={seen ? starter.html : ""}
          title={starter.name}
          width={drawn.width}
          height={drawn.height}
        />
      </div>
      <span className="caption">
        <span className="grow">
          <b>{starter.name}</b> <span className="mute">{starter.about}</span>
        </span>
        <NamedForm
          label="Start from it"
          title={`Start from ${starter.name}`}
          nameLabel="Name of the piece"
          submit="Make it"
          make={make}
          said={(made) => `Made ${made.name}`}
        />
      </span>
    </section>
  );
}
