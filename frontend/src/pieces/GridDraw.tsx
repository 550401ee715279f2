import Button from "@mui/material/Button";
import { type KeyboardEvent, useState } from "react";
import { Chooser, LabelledField } from "../parts/controls";
import { Ruler } from "../parts/Ruler";
import { useSite } from "../parts/site";
import { targetName } from "../parts/words";
import {
  assigned,
  blockOf,
  blockOfArea,
  type Grid,
  NONE,
  namesIn,
  withColumnAfter,
  withoutColumn,
  withoutGridRow,
  withRowBelow,
} from "./gridTree";
import { tracksShifted, trackWidths } from "./shares";

interface Props {
  grid: Grid;
  /** The slots that the template has, besides those that it places. */
  slots: string[];
  onChange: (grid: Grid) => void;
}

interface Cell {
  row: number;
  column: number;
}

const STEPS: Record<string, [number, number]> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
};
const OWN = "a slot of its own …";

/** A template's grid, drawn on: drag over cells, or Shift and the arrows, then say what lies there. */
export function GridDraw({ grid, slots, onChange }: Props) {
  const site = useSite();
  const [from, setFrom] = useState<Cell>({ row: 0, column: 0 });
  const [to, setTo] = useState<Cell>({ row: 0, column: 0 });
  const [own, setOwn] = useState<string | null>(null);
  const last = { row: grid.areas.length - 1, column: grid.columns.length - 1 };
  const kept = ({ row, column }: Cell) => ({
    row: Math.max(0, Math.min(last.row, row)),
    column: Math.max(0, Math.min(last.column, column)),
  });
  const block = blockOf(kept(from), kept(to));
  const here = grid.areas[block.top]?.[block.left] ?? NONE;
  const names = [...new Set(["content", ...site.slots, ...slots, ...namesIn(grid)])];
  const put = (name: string) => {
    setOwn(null);
    onChange(assigned(grid, block, name));
  };
  const keys = (event: KeyboardEvent<HTMLButtonElement>, cell: Cell) => {
    const step = STEPS[event.key];
    if (!step) return;
    event.preventDefault();
    const next = kept({ row: cell.row + step[0], column: cell.column + step[1] });
    setTo(next);
    if (!event.shiftKey) setFrom(next);
    const cells = event.currentTarget.parentElement?.querySelectorAll<HTMLButtonElement>("button");
    cells?.[next.row * grid.columns.length + next.column]?.focus();
  };
  const wide = block.right - block.left + 1;
  const high = block.bottom - block.top + 1;
  const tracks = trackWidths(grid.columns);
  return (
    <section aria-label="Grid">
      <div
        className="grid-draw"
        style={{ gridTemplateColumns: `repeat(${grid.columns.length}, minmax(0, 1fr))` }}
      >
        {grid.areas.flatMap((row, at) =>
          row.map((name, column) => {
            const chosen =
              at >= block.top && at <= block.bottom && column >= block.left && column <= block.right;
            return (
              <button
                type="button"
                // biome-ignore lint/suspicious/noArrayIndexKey: a cell is its place
                key={`${at}.${column}`}
                className={chosen ? "grid-cell on" : "grid-cell"}
                style={{ gridArea: `${at + 1} / ${column + 1}` }}
                aria-pressed={chosen}
                aria-label={`Row ${at + 1}, column ${column + 1}: ${name === NONE ? "nothing" : name}`}
                tabIndex={at === kept(to).row && column === kept(to).column ? 0 : -1}
                onPointerDown={(event) => {
                  // A drag goes on over other cells: the first one must not hold the pointer.
                  event.currentTarget.releasePointerCapture(event.pointerId);
                  setTo({ row: at, column });
                  if (!event.shiftKey) setFrom({ row: at, column });
                }}
                onPointerEnter={(event) => event.buttons === 1 && setTo({ row: at, column })}
                onKeyDown={(event) => keys(event, { row: at, column })}
              />
            );
          }),
        )}
        {namesIn(grid).map((name) => {
          const area = blockOfArea(grid, name);
          if (!area) return null;
          const lines = `${area.top + 1} / ${area.left + 1} / ${area.bottom + 2} / ${area.right + 2}`;
          return (
            <span
              key={name}
              className={`grid-area area-is-${name}`}
              style={{ gridArea: lines }}
              aria-hidden="true"
            >
              {name}
            </span>
          );
        })}
      </div>
      <div className="row" style={{ flexWrap: "wrap", marginTop: 8 }}>
        <span className="mute">
          {wide} by {high} {wide * high === 1 ? "cell" : "cells"}:
        </span>
        <Chooser
          label="What lies there"
          value={own === null ? here : OWN}
          options={[
            ...names.map((name) => [name, name === "content" ? "Content" : targetName(name)] as const),
            [NONE, "nothing"] as const,
            [OWN, OWN] as const,
          ]}
          sx={{ minWidth: 150 }}
          onChange={(name) => (name === OWN ? setOwn("") : put(name))}
        />
        {own !== null && (
          <>
            <LabelledField label="Name of the new slot" mono value={own} onChange={setOwn} />
            <Button variant="outlined" disabled={!/^[a-z][a-z0-9-]*$/.test(own)} onClick={() => put(own)}>
              Put it there
            </Button>
          </>
        )}
      </div>
      <div className="row" style={{ flexWrap: "wrap" }}>
        <Button variant="text" onClick={() => onChange(withRowBelow(grid, block.bottom))}>
          + row
        </Button>
        <Button
          variant="text"
          disabled={last.row === 0}
          onClick={() => onChange(withoutGridRow(grid, block.top))}
        >
          − row
        </Button>
        <Button variant="text" onClick={() => onChange(withColumnAfter(grid, block.right))}>
          + column
        </Button>
        <Button
          variant="text"
          disabled={last.column === 0}
          onClick={() => onChange(withoutColumn(grid, block.left))}
        >
          − column
        </Button>
      </div>
      {tracks && tracks.length > 1 && (
        <Ruler
          label="the grid"
          widths={tracks}
          step={1}
          told={(at) => grid.columns[at]?.replace(/^minmax\(0(?:px)?, (.*)\)$/, "$1") ?? ""}
          onMove={(line, by) => onChange({ ...grid, columns: tracksShifted(grid.columns, line, by) })}
        />
      )}
      <div className="row" style={{ marginTop: 4 }}>
        <span className="mute">widths</span>
        {grid.columns.map((track, at) => (
          <LabelledField
            // biome-ignore lint/suspicious/noArrayIndexKey: a column is its place
            key={at}
            label={`Width of column ${at + 1}`}
            mono
            value={track}
            onChange={(next) =>
              onChange({ ...grid, columns: grid.columns.map((one, place) => (place === at ? next : one)) })
            }
          />
        ))}
      </div>
    </section>
  );
}
