import { Ruler } from "../parts/Ruler";
import type { Row } from "./content";
import { shifted, twelfths } from "./shares";

interface Props {
  rows: Row[];
  row: number;
  onRows: (rows: Row[]) => void;
}

/** The columns of a row as they share it; the lines between them are dragged, or moved by the arrow keys. */
export function RowRuler({ rows, row, onRows }: Props) {
  const cells = rows[row]?.cells ?? [];
  const shares = twelfths(cells.map((cell) => cell.width ?? 0));
  const own = cells.some((cell) => !cell.width);
  const move = (line: number, by: number) => {
    const next = shifted(shares, line, by);
    onRows(
      rows.map((one, at) =>
        at === row
          ? { ...one, cells: one.cells.map((cell, place) => ({ ...cell, width: next[place] ?? 1 })) }
          : one,
      ),
    );
  };
  return (
    <Ruler
      label={`row ${row + 1}`}
      widths={shares}
      step={1}
      told={(at) => (own ? "its own" : `${cells[at]?.width}`)}
      onMove={move}
    />
  );
}
