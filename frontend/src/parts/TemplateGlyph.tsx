import type { PieceRow } from "./site";
import { areaBoxes } from "./templateAreas";

interface Props {
  piece: PieceRow;
  /** Height in pixels; the width follows. */
  size?: number;
}

/** A template's grid, drawn small: its areas in their places, the content darkest, the asides in between. */
export function TemplateGlyph({ piece, size = 14 }: Props) {
  const boxes = areaBoxes(piece.content?.areas);
  return (
    <svg
      className="glyph"
      width={size * 1.25}
      height={size}
      viewBox="0 0 100 80"
      preserveAspectRatio="none"
      aria-hidden="true"
    >
      {boxes.map((box) => (
        <rect
          key={box.name}
          x={box.x * 100 + 3}
          y={box.y * 80 + 3}
          width={Math.max(4, box.width * 100 - 6)}
          height={Math.max(4, box.height * 80 - 6)}
          rx="4"
          opacity={box.name === "content" ? 0.95 : box.name.startsWith("aside") ? 0.6 : 0.3}
        />
      ))}
    </svg>
  );
}
