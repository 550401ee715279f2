import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { answer, api } from "../api/client";
import { pictureQuery } from "../api/pieceQueries";
import { LabelledField } from "../parts/controls";
import { useDraftList } from "../parts/drafts";
import { Frame } from "../parts/Frame";
import {
  type PieceRow,
  type ShownOn,
  useAddress,
  useLinkTo,
  usePieces,
  usePiecesShown,
  useSite,
} from "../parts/site";
import { useSeen } from "../parts/useSeen";
import { NARROWER } from "../parts/widths";
import { count, KIND_ORDER, kindsName } from "../parts/words";
import { DRAWN, ON_ITS_PAGE } from "./drawn";
import { NamedForm } from "./NamedForm";
import { PieceEditor } from "./PieceEditor";
import { pieceTree } from "./tree";
import "./pieces.css";

/** The pieces on a shelf by kind, each drawn small from its real rendering; and the editor of one. */
export function PiecesView() {
  const { list, bySlug } = usePieces();
  const shownOn = usePiecesShown();
  const drafts = useDraftList();
  const slug = useParams().piece;
  const { get, set } = useAddress();
  const site = useSite();
  const linkTo = useLinkTo();
  const word = get("q").toLowerCase();
  const chosen = slug ? bySlug.get(slug) : undefined;
  if (chosen) return <PieceEditor key={chosen.slug} piece={chosen} />;
  if (slug && list.length) return <p className="column">There is no piece {slug}.</p>;
  const unsaved = new Set(drafts.filter((draft) => draft.kind === "piece").map((draft) => draft.id));
  const fitting = list.filter((piece) => piece.name.toLowerCase().includes(word));
  return (
    <div className="work">
      <div className="bar">
        <div style={{ width: 360 }}>
          <LabelledField
            label="Find pieces"
            placeholder="Find pieces"
            value={get("q")}
            onChange={(q) => set({ q })}
          />
        </div>
        <span className="mute" role="status">
          {count(fitting.length, "piece")}
        </span>
        <span className="grow" />
        <Link to={linkTo("places")}>All places</Link>
        <Link to={linkTo("starters")}>Starters</Link>
        <Link to={linkTo("take-in")}>Take in …</Link>
        <a href={`/api/sites/${site.slug}/layout-file`} download>
          Export the layout
        </a>
        <NewPiece />
      </div>
      <div className="shelf">
        {KIND_ORDER.map((kind) => {
          const pieces = fitting.filter((piece) => piece.kind === kind);
          if (!pieces.length) return null;
          return (
            <section key={kind} aria-label={kindsName(kind)}>
              <h2>
                {kindsName(kind)} <span className="mute">{pieces.length}</span>
              </h2>
              <div
                className="pieces"
                style={{
                  gridTemplateColumns: `repeat(auto-fill, minmax(min(100%, ${DRAWN[kind]?.column}px), 1fr))`,
                }}
              >
                {pieces.map((piece) => (
                  <PieceCard
                    key={piece.slug}
                    piece={piece}
                    shown={shownOn(piece.slug)}
                    unsaved={unsaved.has(piece.slug)}
                  />
                ))}
              </div>
            </section>
          );
        })}
        {fitting.length === 0 && (
          <p className="mute" style={{ marginTop: 16 }}>
            {list.length
              ? "No piece is called so."
              : "No pieces yet. Make a header first: every page can use one."}{" "}
            {list.length === 0 && site.bound.length > 0 && (
              <>
                Or <Link to={linkTo("site/bindings")}>take what stands on the pages today</Link>.
              </>
            )}
          </p>
        )}
      </div>
    </div>
  );
}

interface CardProps {
  piece: PieceRow;
  /** Where it shows; undefined while that is not known. */
  shown: ShownOn | undefined;
  unsaved: boolean;
}

function PieceCard({ piece, shown, unsaved }: CardProps) {
  const site = useSite();
  const navigate = useNavigate();
  const linkTo = useLinkTo();
  const [card, seen] = useSeen<HTMLButtonElement>();
  // Where the styles of one page hide it, it is looked for on another; where those of all do, it is drawn by itself.
  const [at, setAt] = useState(0);
  const paths = shown?.some.length ? shown.some : [""];
  const asked = pictureQuery(site.slug, piece.slug, pieceTree(piece), paths[at] ?? "", {
    alone: at >= paths.length,
  });
  const picture = useQuery({ ...asked, enabled: seen && shown !== undefined });
  const drawn = DRAWN[piece.kind] ?? { width: 400, height: 300 };
  return (
    <button
      ref={card}
      type="button"
      className="piece-card"
      onClick={() => navigate(linkTo(`pieces/${piece.slug}`))}
    >
      <div inert style={{ width: "100%" }}>
        <Frame
          key={at}
          html={picture.isPlaceholderData ? "" : (picture.data?.html ?? "")}
          title={piece.name}
          width={drawn.width}
          height={drawn.height}
          {...(picture.data?.in_place && ON_ITS_PAGE)}
          {...(picture.data?.in_place && at + 1 === paths.length && { narrower: NARROWER })}
          onUnseen={() => setAt(at + 1)}
        />
      </div>
      <span className="caption">
        <i className="swatch" style={{ background: piece.colour }} />
        <b className="clip">{piece.name}</b>
        <span className="grow" />
        <span className="mute" style={{ whiteSpace: "nowrap" }}>
          {unsaved && <b className="unsaved">edited, not saved · </b>}
          {shown === undefined
            ? ""
            : shown.pages
              ? count(shown.pages, "page")
              : piece.uses
                ? "on no page now"
                : "used nowhere"}
        </span>
      </span>
    </button>
  );
}

function NewPiece() {
  const site = useSite();
  const make = (form: FormData) => {
    const body = { name: String(form.get("name")), kind: String(form.get("kind")) as PieceRow["kind"] };
    return answer(api.POST("/api/sites/{site}/pieces", { params: { path: { site: site.slug } }, body }));
  };
  return (
    <NamedForm
      label="New piece"
      title="New piece"
      nameLabel="Name"
      submit="Make it"
      main
      make={make}
      said={(made) => `Made ${made.name}`}
    >
      <TextField select fullWidth name="kind" label="Kind" defaultValue={KIND_ORDER[0]}>
        {KIND_ORDER.map((kind) => (
          <MenuItem key={kind} value={kind}>
            {kind}
          </MenuItem>
        ))}
      </TextField>
    </NamedForm>
  );
}
