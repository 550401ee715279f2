import { useVirtualizer } from "@tanstack/react-virtual";
import {
  type KeyboardEvent,
  type ReactNode,
  type RefObject,
  useEffect,
  useMemo,
  useRef,
  useState,
} from "react";
import type { Shapes } from "../api/client";
import type { Tree } from "../api/queries";
import { usePieces } from "../parts/site";
import { useDebounced } from "../parts/useDebounced";
import { useNewest } from "../parts/useSteady";
import { targetName } from "../parts/words";
import { ColumnWidth, type Widths } from "./ColumnWidth";
import { type Ghosts, GridRow, type RowActions } from "./GridRow";
import { stepFor } from "./keys";
import { type PageMarks, useUnlike } from "./marks";
import { ColumnCells } from "./strips";
import { type Line, sectionOf, sharedTitles } from "./tree";
import { useDragPicking } from "./useDragPicking";

const NO_PATHS: string[] = [];
const ROW = 27;
/** The least that the page column and a target's column need, in pixels. */
const PAGE_WIDTH = 270;
const CELL_WIDTH = 92;

interface Props {
  /** Whether what is shown is still that of another lens or version. */
  busy: boolean;
  tree: Tree;
  lines: Line[];
  columns: Shapes["TargetColumn"][];
  picked: Set<number>;
  /** How pages stand to a condition that is being thought about. */
  ghosts: Ghosts | null;
  /** A page to be brought into sight. */
  reveal: number | null;
  /** What stands in the head of the page column. */
  head: ReactNode;
  chosen: { path: string; target: string };
  onToggle: (line: Line) => void;
  onPick: (number: number, upTo: boolean) => void;
  /** Pick several pages at once, or drop them again. */
  onPickAll: (numbers: number[]) => void;
  onChoose: (path: string, target: string) => void;
  onPin: (path: string, target: string) => void;
  /** Look at a page as a whole. */
  onOpen: (path: string) => void;
  /** Pick some pages beside those that are. */
  onPickThese: (numbers: number[]) => void;
  /** The choices that pages have of their own, by the page's number. */
  marks: Map<number, PageMarks>;
  /** Whether what is not the same for everyone is marked. */
  marking: boolean;
  /** Widths that were drawn, by target, in pixels. */
  widths: Widths;
  onWidths: (widths: Widths) => void;
  /** The list itself, for whoever gives the focus back to it. */
  focusOn: RefObject<HTMLDivElement | null>;
}

/** The page tree with a strip for each target. A grid by the ARIA pattern: one tab stop, arrows walk the cells. */
export function Grid({
  busy,
  tree,
  lines,
  columns,
  picked,
  ghosts,
  reveal,
  head,
  chosen,
  onToggle,
  onPick,
  onPickAll,
  onChoose,
  onPin,
  onOpen,
  onPickThese,
  marks,
  marking,
  widths,
  onWidths,
  focusOn: scroller,
}: Props) {
  const { bySlug } = usePieces();
  const cells = useMemo(() => columns.map((column) => new ColumnCells(column)), [columns]);
  const shared = useMemo(() => sharedTitles(tree.titles), [tree]);
  const [wanted, setActive] = useState({ row: 0, column: 0 });
  // A list that a search made shorter still has an active row, and with it keys that do something.
  const active = { ...wanted, row: Math.max(0, Math.min(wanted.row, lines.length - 1)) };
  const [lit, setLit] = useState<number | null>(null);
  const rows = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 12,
    paddingStart: 30,
    scrollPaddingStart: 30,
  });
  const items = rows.getVirtualItems();
  const pool = useRef(1);
  pool.current = Math.max(pool.current, items.length);
  const top = Math.max(0, Math.ceil(((rows.scrollOffset ?? 0) - 4) / ROW));
  const drawn = columns.map((column) => widths[column.target]);
  const template = [
    `minmax(${PAGE_WIDTH}px, 2.6fr)`,
    ...drawn.map((width) => (width ? `${width}px` : `minmax(${CELL_WIDTH}px, 1fr)`)),
  ].join(" ");
  const least = drawn.reduce<number>((sum, width) => sum + (width ?? CELL_WIDTH), PAGE_WIDTH);
  const inSight = marking
    ? items.flatMap(({ index }) => {
        const line = lines[index];
        return line && !line.closed && !line.group ? [tree.paths[line.number] as string] : [];
      })
    : NO_PATHS;
  const unlike = useUnlike(useDebounced(inSight, 120), marking);
  const dragging = useDragPicking(lines, onPickThese);

  // An address that names a cell leads to it; later choices are made where one already is.
  const [address] = useState(chosen);
  // biome-ignore lint/correctness/useExhaustiveDependencies: only the address that the view was opened with counts
  useEffect(() => {
    const row = lines.findIndex((line) => !line.group && tree.paths[line.number] === address.path);
    if (row < 0) return;
    rows.scrollToIndex(row, { align: "center" });
    setActive({ row, column: columns.findIndex((column) => column.target === address.target) + 1 });
  }, [address]);

  const chosenColumn = columns.findIndex((column) => column.target === chosen.target);
  // What a trace is about stays in sight when the trace takes room from the list.
  useEffect(() => {
    if (!chosen.path || chosenColumn < 0) return;
    const list = scroller.current;
    const seen = list && new ResizeObserver(() => bringIntoSight(list));
    if (list) seen?.observe(list);
    return () => seen?.disconnect();
  }, [scroller, chosen.path, chosenColumn]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: where the list stands is the hand's, until another page is to be seen
  useEffect(() => {
    const row = reveal === null ? -1 : lines.findIndex((line) => line.number === reveal && !line.group);
    if (row >= 0) rows.scrollToIndex(row, { align: "center" });
  }, [reveal]);
  const does = useNewest({ onToggle, onPick, onPickAll, onChoose, onOpen });
  const actions = useMemo<RowActions>(
    () => ({
      toggle: (line) => does.current.onToggle(line),
      pick: (row, number, upTo) => {
        setActive({ row, column: 0 });
        does.current.onPick(number, upTo);
      },
      pickSection: (line) => does.current.onPickAll(sectionOf(line)),
      choose: (row, column, path, target) => {
        setActive({ row, column });
        does.current.onChoose(path, target);
      },
      light: setLit,
      open: (row, path) => {
        setActive({ row, column: 0 });
        does.current.onOpen(path);
      },
    }),
    [does],
  );
  const move = (row: number, column: number) => {
    const next = {
      row: Math.max(0, Math.min(row, lines.length - 1)),
      column: Math.max(0, Math.min(column, columns.length)),
    };
    setActive(next);
    rows.scrollToIndex(next.row);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    // Keys in a control of the head are that control's.
    if (event.target !== event.currentTarget) return;
    const line = lines[active.row];
    if (!line || event.ctrlKey || event.metaKey || event.altKey) return;
    const path = tree.paths[line.number] as string;
    const target = columns[active.column - 1]?.target;
    const onSection = active.column === 0 && line.hasPages;
    const step = stepFor(event.key, event.shiftKey, { onSection, closed: line.closed });
    if (!step) return;
    event.preventDefault();
    switch (step.do) {
      case "move":
        return move(active.row + step.rows, active.column + step.columns);
      case "first":
        return move(0, active.column);
      case "last":
        return move(lines.length - 1, active.column);
      case "toggle":
        return onToggle(line);
      case "pick":
        return line.group ? onPickAll(line.group.members) : onPick(line.number, step.upTo);
      case "pick-section":
        return onPickAll(sectionOf(line));
      case "open":
        if (line.group) onToggle(line);
        else if (target) onChoose(path, target);
        else onOpen(path);
        return;
      case "pin":
        if (target) onPin(path, target);
    }
  };
  return (
    <div
      ref={scroller}
      className="grid"
      role="grid"
      aria-label="Pages and what each gets"
      aria-rowcount={lines.length + 1}
      aria-colcount={columns.length + 1}
      aria-multiselectable="true"
      aria-busy={busy}
      aria-activedescendant={`cell-${active.row}-${active.column}`}
      tabIndex={0}
      onKeyDown={onKeyDown}
      onMouseLeave={() => setLit(null)}
      {...dragging.handlers}
    >
      <div role="presentation" style={{ height: rows.getTotalSize(), position: "relative", minWidth: least }}>
        <div className="line head" role="row" aria-rowindex={1} style={{ gridTemplateColumns: template }}>
          <div role="columnheader" className="page" aria-label="Page" style={{ zIndex: 4 }}>
            {head}
          </div>
          {columns.map((column) => (
            <div role="columnheader" key={column.target} style={{ position: "relative" }}>
              <span className="clip">{targetName(column.target)}</span>
              <ColumnWidth
                name={targetName(column.target)}
                width={widths[column.target]}
                onChange={(width) => onWidths({ ...widths, [column.target]: width })}
              />
            </div>
          ))}
        </div>
        {items.map((item) => {
          const line = lines[item.index] as Line;
          return (
            <GridRow
              // A row that is scrolled out of sight is used again for one that comes in.
              key={item.index % pool.current}
              row={item.index}
              top={item.start}
              template={template}
              tree={tree}
              above={lines[item.index - 1]}
              line={line}
              below={lines[item.index + 1]}
              cells={cells}
              bySlug={bySlug}
              shared={!line.group && shared.has(tree.titles[line.number] as string)}
              dragged={dragging.holds(item.index)}
              picked={
                line.group ? line.group.members.every((one) => picked.has(one)) : picked.has(line.number)
              }
              ghost={ghosts?.get(line.number)}
              active={active.row === item.index ? active.column : null}
              chosen={!line.group && chosen.path === tree.paths[line.number] ? chosen.target : null}
              lit={lit}
              named={item.index === top}
              marks={line.group ? undefined : marks.get(line.number)}
              unlike={line.group ? undefined : unlike.get(tree.paths[line.number] as string)}
              actions={actions}
            />
          );
        })}
      </div>
    </div>
  );
}

/** Scroll a list sideways until the cell that was chosen is seen beside the column of pages. */
function bringIntoSight(list: HTMLElement) {
  list.querySelector(".cell.chosen")?.scrollIntoView({ block: "nearest", inline: "nearest" });
}
