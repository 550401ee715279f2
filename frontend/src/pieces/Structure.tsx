import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useDroppable,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import Button from "@mui/material/Button";
import type { KeyboardEvent } from "react";
import type { Problem, Shapes } from "../api/client";
import { Grip } from "../parts/icons";
import { useMessage } from "../parts/messages";
import { isFirst, isLast, SignButtons } from "../parts/SignButtons";
import { AddItem } from "./AddItem";
import { CellFields } from "./CellFields";
import { copiedItem, copyItem } from "./clipboard";
import {
  type Cell,
  type Item,
  inserted,
  itemAt,
  moved,
  oneStep,
  pointerOf,
  type Row,
  removed,
  rowMoved,
  rowsOf,
  type Spot,
  withCells,
  withoutRow,
  withRow,
} from "./content";
import { useItemWords } from "./itemWords";
import { RowRuler } from "./RowRuler";
import type { PieceTree } from "./tree";

interface Props {
  tree: PieceTree;
  types: Shapes["ItemType"][];
  chosen: Spot | null;
  problemUnder: (pointer: string) => Problem | undefined;
  onChoose: (spot: Spot | null) => void;
  onRows: (rows: Row[]) => void;
}

const idOf = ({ row, cell, item }: Spot) => `${row}.${cell}.${item}`;
const spotOf = (id: string): Spot => {
  const [row = 0, cell = 0, item] = id.split(".").map(Number);
  return { row, cell, item: item ?? Number.MAX_SAFE_INTEGER };
};

/** A piece's rows, cells and items: dragged, moved by keyboard, added, and chosen to be set. */
export function Structure({ tree, types, chosen, problemUnder, onChoose, onRows }: Props) {
  const rows = rowsOf(tree);
  const words = useItemWords(types);
  const tell = useMessage();
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const said = (id: unknown) => {
    const spot = spotOf(String(id));
    const item = itemAt(rows, spot);
    return item ? words.name(item) : `the end of row ${spot.row + 1}`;
  };
  const move = (from: Spot, to: Spot) => {
    const { rows: next, spot } = moved(rows, from, to);
    onRows(next);
    onChoose(spot);
  };
  const drop = ({ active, over }: DragEndEvent) => {
    if (!over || over.id === active.id) return;
    const to = spotOf(String(over.id));
    const there = rows[to.row]?.cells[to.cell]?.items.length ?? 0;
    move(spotOf(String(active.id)), { ...to, item: Math.min(to.item, there) });
  };
  const add = (item: Item) => {
    const after = chosen && itemAt(rows, chosen) ? { ...chosen, item: chosen.item + 1 } : endOf(rows);
    onRows(inserted(rows, after, item));
    onChoose(after);
  };
  const keys = (event: KeyboardEvent, spot: Spot, item: Item) => {
    const plainly = event.ctrlKey || event.metaKey;
    const step = event.altKey && ({ ArrowUp: -1, ArrowDown: 1 } as const)[event.key];
    const to = step ? oneStep(rows, spot, step) : null;
    if (to) move(spot, to);
    else if (event.key === "Delete") {
      onRows(removed(rows, spot));
      onChoose(null);
    } else if (plainly && event.key === "c") {
      copyItem(item);
      tell(`Copied ${words.name(item)}`);
    } else if (plainly && event.key === "v" && copiedItem()) add(copiedItem() as Item);
    else return;
    event.preventDefault();
  };
  const announcements = {
    onDragStart: ({ active }: { active: { id: unknown } }) => `Lifted ${said(active.id)}`,
    onDragOver: ({ active, over }: { active: { id: unknown }; over: { id: unknown } | null }) =>
      over ? `${said(active.id)} would stand at ${said(over.id)}` : undefined,
    onDragEnd: ({ active }: { active: { id: unknown } }) => `${said(active.id)} was put down`,
    onDragCancel: ({ active }: { active: { id: unknown } }) => `${said(active.id)} stays where it was`,
  };
  return (
    <section aria-label="Items">
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragEnd={drop}
        accessibility={{ announcements }}
      >
        {rows.map((row, at) => (
          <fieldset
            // biome-ignore lint/suspicious/noArrayIndexKey: a row is its place
            key={at}
            className="piece-row"
          >
            <legend className="row">
              <span className="grow">
                {rows.length > 1 || row.cells.length > 1 ? `Row ${at + 1}` : "Items"}
              </span>
              <RowTools rows={rows} at={at} onRows={onRows} />
            </legend>
            {row.cells.map((cell, place) => (
              <CellList
                // biome-ignore lint/suspicious/noArrayIndexKey: a cell is its place
                key={place}
                cell={cell}
                row={at}
                place={place}
                many={row.cells.length > 1}
                chosen={chosen}
                label={words.line}
                wrong={(spot) => Boolean(problemUnder(`/content${pointerOf(tree, spot)}`))}
                onChoose={onChoose}
                onKeys={keys}
              >
                <CellFields rows={rows} row={at} place={place} many={row.cells.length > 1} onRows={onRows} />
              </CellList>
            ))}
            {row.cells.length > 1 && <RowRuler rows={rows} row={at} onRows={onRows} />}
          </fieldset>
        ))}
      </DndContext>
      {rows.length === 0 && (
        <p className="mute">
          No items yet, so it draws nothing. To hide what stands on some pages, leave the slot empty there
          instead.
        </p>
      )}
      <div className="row" style={{ flexWrap: "wrap" }}>
        <AddItem types={types} onAdd={add} />
        <Button variant="text" onClick={() => onRows(withRow(rows))}>
          + row
        </Button>
      </div>
    </section>
  );
}

/** The end of the last cell of the last row. */
function endOf(rows: Row[]): Spot {
  const row = Math.max(0, rows.length - 1);
  const cell = Math.max(0, (rows[row]?.cells.length ?? 1) - 1);
  return { row, cell, item: rows[row]?.cells[cell]?.items.length ?? 0 };
}

function RowTools({ rows, at, onRows }: { rows: Row[]; at: number; onRows: (rows: Row[]) => void }) {
  const cells = rows[at]?.cells.length ?? 1;
  const name = `row ${at + 1}`;
  const tools = [
    [
      `Fewer columns in ${name}`,
      "−",
      cells < 2 && "one is the least",
      () => onRows(withCells(rows, at, cells - 1)),
    ],
    [
      `More columns in ${name}`,
      "+",
      cells > 5 && "six are the most",
      () => onRows(withCells(rows, at, cells + 1)),
    ],
    [`Move ${name} up`, "↑", isFirst(at === 0), () => onRows(rowMoved(rows, at, at - 1))],
    [`Move ${name} down`, "↓", isLast(at === rows.length - 1), () => onRows(rowMoved(rows, at, at + 1))],
    [`Take away ${name}`, "×", false, () => onRows(withoutRow(rows, at))],
  ] as const;
  return (
    <>
      <SignButtons buttons={tools.slice(0, 1)} width={24} />
      <span className="mute">{cells === 1 ? "1 column" : `${cells} columns`}</span>
      <SignButtons buttons={tools.slice(1)} width={24} />
    </>
  );
}

interface CellListProps {
  cell: Cell;
  row: number;
  place: number;
  many: boolean;
  chosen: Spot | null;
  label: (item: Item) => string;
  wrong: (spot: Spot) => boolean;
  onChoose: (spot: Spot) => void;
  onKeys: (event: KeyboardEvent, spot: Spot, item: Item) => void;
  children: React.ReactNode;
}

function CellList({
  cell,
  row,
  place,
  many,
  chosen,
  label,
  wrong,
  onChoose,
  onKeys,
  children,
}: CellListProps) {
  const { setNodeRef } = useDroppable({ id: `${row}.${place}` });
  const spots = cell.items.map((_, item) => ({ row, cell: place, item }));
  return (
    <section
      ref={setNodeRef}
      className={many ? "piece-cell many" : "piece-cell"}
      aria-label={`Column ${place + 1}`}
    >
      <SortableContext items={spots.map(idOf)} strategy={verticalListSortingStrategy}>
        {cell.items.map((item, at) => {
          const spot = spots[at] as Spot;
          return (
            <ItemLine
              key={idOf(spot)}
              spot={spot}
              label={label(item)}
              on={chosen !== null && idOf(chosen) === idOf(spot)}
              wrong={wrong(spot)}
              onChoose={() => onChoose(spot)}
              onKeys={(event) => onKeys(event, spot, item)}
            />
          );
        })}
      </SortableContext>
      {children}
    </section>
  );
}

interface ItemLineProps {
  spot: Spot;
  label: string;
  on: boolean;
  wrong: boolean;
  onChoose: () => void;
  onKeys: (event: KeyboardEvent) => void;
}

function ItemLine({ spot, label, on, wrong, onChoose, onKeys }: ItemLineProps) {
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id: idOf(spot) });
  return (
    <div
      ref={setNodeRef}
      className={on ? "item-line on" : "item-line"}
      style={{ transform: CSS.Transform.toString(transform), transition }}
    >
      <button type="button" className="grip" {...attributes} {...listeners} aria-label={`Move ${label}`}>
        <Grip />
      </button>
      <button
        type="button"
        className="plainly grow clip"
        aria-pressed={on}
        onClick={onChoose}
        onKeyDown={onKeys}
      >
        {label}
      </button>
      {wrong && <span className="field-error">to mend</span>}
    </div>
  );
}
