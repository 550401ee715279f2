import { useState } from "react";
import { usePiecePages, usePieces } from "./site";
import { count, kindsName } from "./words";

interface Props {
  kinds: string[];
  onChoose: (slug: string) => void;
  label: string;
}

/** A list of pieces to choose from, narrowed by typing. */
export function ChoosePiece({ kinds, onChoose, label }: Props) {
  const { list } = usePieces();
  const pagesOf = usePiecePages();
  const [text, setText] = useState("");
  const [active, setActive] = useState(0);
  const word = text.toLowerCase();
  const fitting = kinds.flatMap((kind) =>
    list.filter((piece) => piece.kind === kind && piece.name.toLowerCase().includes(word)),
  );
  return (
    <div>
      <input
        className="input"
        aria-label={label}
        placeholder="Type part of a name"
        autoFocus
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setActive(0);
        }}
        onKeyDown={(event) => {
          if (event.key === "ArrowDown") setActive(Math.min(active + 1, fitting.length - 1));
          else if (event.key === "ArrowUp") setActive(Math.max(active - 1, 0));
          else if (event.key === "Enter" && fitting[active]) onChoose(fitting[active].slug);
          else return;
          event.preventDefault();
        }}
      />
      <ul className="choices" role="listbox" aria-label={label}>
        {fitting.map((piece, number) => (
          <li
            key={piece.slug}
            role="option"
            aria-selected={number === active}
            onClick={() => onChoose(piece.slug)}
          >
            <i className="swatch" style={{ background: piece.colour }} />
            <span>{piece.name}</span>
            <span className="count">
              {kinds.length > 1 ? `${kindsName(piece.kind)}, ` : ""}
              {pagesOf(piece.slug) !== undefined && count(pagesOf(piece.slug) ?? 0, "page")}
            </span>
          </li>
        ))}
      </ul>
      {fitting.length === 0 && (
        <p className="mute">No piece of this kind is called so. Make one under Pieces.</p>
      )}
    </div>
  );
}
