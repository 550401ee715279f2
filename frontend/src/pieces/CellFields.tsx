import { Chooser, LabelledField } from "../parts/controls";
import { type Cell, cellChanged, type Row } from "./content";

interface Props {
  rows: Row[];
  row: number;
  place: number;
  /** Whether the row has other cells, with which it shares the room. */
  many: boolean;
  onRows: (rows: Row[]) => void;
}

const FLOWS = [
  ["stack", "stacked"],
  ["line", "in line"],
] as const;
const ALIGNS = [
  ["start", "start"],
  ["center", "middle"],
  ["end", "end"],
  ["apart", "spread"],
] as const;

/** How the items of a cell follow each other, where they stand, and how much of the row it takes. */
export function CellFields({ rows, row, place, many, onRows }: Props) {
  const cell = rows[row]?.cells[place] as Cell;
  const name = `column ${place + 1} of row ${row + 1}`;
  const set = (changes: Partial<Cell>) => onRows(cellChanged(rows, row, place, changes));
  const flow = cell.flow ?? "stack";
  return (
    <div className="row cell-fields">
      <Chooser
        label={`How items follow in ${name}`}
        value={flow}
        options={FLOWS}
        onChange={(next) => set({ flow: next, align: cell.align === "apart" ? "start" : cell.align })}
      />
      <Chooser
        label={`Where items stand in ${name}`}
        value={cell.align ?? "start"}
        options={flow === "line" ? ALIGNS : ALIGNS.slice(0, 3)}
        onChange={(align) => set({ align })}
      />
      {many && (
        <>
          <span className="mute">width</span>
          <span style={{ width: 56 }}>
            <LabelledField
              label={`Width of ${name}, 0 for its own`}
              type="number"
              value={String(cell.width ?? 0)}
              onChange={(typed) => set({ width: Math.max(0, Math.min(12, Math.round(Number(typed)))) })}
            />
          </span>
        </>
      )}
    </div>
  );
}
