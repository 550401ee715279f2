import { useState } from "react";
import { SearchList } from "./SearchList";
import { usePiecePages, usePieces } from "./site";
import { TemplateGlyph } from "./TemplateGlyph";
import { count, kindsName } from "./words";

interface Props {
  kinds: string[];
  onChoose: (slug: string) => void;
  label: string;
  /** The piece that is there now. */
  current?: string;
}

/** A list of pieces to choose from, narrowed by typing. */
export function ChoosePiece({ kinds, onChoose, label, current }: Props) {
  const { list } = usePieces();
  const pagesOf = usePiecePages();
  const [text, setText] = useState("");
  const word = text.toLowerCase();
  const fitting = kinds.flatMap((kind) =>
    list.filter((piece) => piece.kind === kind && piece.name.toLowerCase().includes(word)),
  );
  return (
    <SearchList
      label={label}
      placeholder="Type part of a name"
      options={fitting}
      keyOf={(piece) => piece.slug}
      nameOf={(piece) => piece.name}
      text={text}
      onText={setText}
      onChoose={(piece) => onChoose(piece.slug)}
      nothing="No piece of this kind is called so. Make one under Pieces."
    >
      {(piece) => {
        const pages = pagesOf(piece.slug);
        return (
          <>
            {piece.kind === "template" ? (
              <span style={{ color: piece.colour, display: "inline-flex" }}>
                <TemplateGlyph piece={piece} size={30} />
              </span>
            ) : (
              <i className="swatch" style={{ background: piece.colour }} />
            )}
            <span>{piece.name}</span>
            {piece.slug === current && <span className="mute">in force here</span>}
            <span className="count">
              {kinds.length > 1 ? `${kindsName(piece.kind)}, ` : ""}
              {pages !== undefined && count(pages, "page")}
            </span>
          </>
        );
      }}
    </SearchList>
  );
}
