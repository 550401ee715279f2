import { useVirtualizer } from "@tanstack/react-virtual";
import { type KeyboardEvent, memo, type RefObject, useEffect, useMemo, useState } from "react";
import type { Shapes } from "../api/client";
import type { Tree } from "../api/queries";
import { Lock } from "../parts/icons";
import { type PieceRow, usePieces } from "../parts/site";
import { count, targetName } from "../parts/words";
import { stepFor } from "./keys";
import { type Cell, ColumnCells } from "./strips";
import type { Line } from "./tree";

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
  chosen: { path: string; target: string };
  onToggle: (number: number) => void;
  onPick: (number: number, upTo: boolean) => void;
  onChoose: (path: string, target: string) => void;
  onPin: (path: string, target: string) => void;
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
  chosen,
  onToggle,
  onPick,
  onChoose,
  onPin,
  focusOn: scroller,
}: Props) {
  const { bySlug } = usePieces();
  const cells = useMemo(() => columns.map((column) => new ColumnCells(column)), [columns]);
  const [active, setActive] = useState({ row: 0, column: 0 });
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
  const top = Math.max(0, Math.ceil(((rows.scrollOffset ?? 0) - 4) / ROW));
  const template = `minmax(${PAGE_WIDTH}px, 2.6fr) repeat(${columns.length}, minmax(${CELL_WIDTH}px, 1fr))`;
  const least = PAGE_WIDTH + columns.length * CELL_WIDTH;

  // An address that names a cell leads to it; later choices are made where one already is.
  const [address] = useState(chosen);
  // biome-ignore lint/correctness/useExhaustiveDependencies: only the address that the view was opened with counts
  useEffect(() => {
    const row = lines.findIndex((line) => tree.paths[line.number] === address.path);
    if (row < 0) return;
    rows.scrollToIndex(row, { align: "center" });
    setActive({ row, column: columns.findIndex((column) => column.target === address.target) + 1 });
  }, [address]);

  const move = (row: number, column: number) => {
    const next = {
      row: Math.max(0, Math.min(row, lines.length - 1)),
      column: Math.max(0, Math.min(column, columns.length)),
    };
    setActive(next);
    rows.scrollToIndex(next.row);
  };
  const onKeyDown = (event: KeyboardEvent) => {
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
        return onToggle(line.number);
      case "pick":
        return onPick(line.number, step.upTo);
      case "open":
        if (target) onChoose(path, target);
        else if (line.hasPages) onToggle(line.number);
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
    >
      <div role="presentation" style={{ height: rows.getTotalSize(), position: "relative", minWidth: least }}>
        <div className="line head" role="row" aria-rowindex={1} style={{ gridTemplateColumns: template }}>
          <div role="columnheader" className="page" style={{ zIndex: 4 }}>
            Page
          </div>
          {columns.map((column) => (
            <div role="columnheader" key={column.target}>
              {targetName(column.target)}
            </div>
          ))}
        </div>
        {items.map((item) => {
          const line = lines[item.index] as Line;
          const number = line.number;
          return (
            <div
              key={number}
              className="line"
              role="row"
              aria-rowindex={item.index + 2}
              aria-selected={picked.has(number)}
              style={{ position: "absolute", top: item.start, gridTemplateColumns: template }}
            >
              <PageCell
                line={line}
                path={tree.paths[number] as string}
                title={tree.titles[number] as string}
                about={tree.types[number] || (tree.kinds[number] as string)}
                picked={picked.has(number)}
                active={active.row === item.index && active.column === 0}
                id={`cell-${item.index}-0`}
                onToggle={() => onToggle(number)}
                onPick={(upTo) => {
                  setActive({ row: item.index, column: 0 });
                  onPick(number, upTo);
                }}
              />
              {cells.map((reader, index) => {
                const above = lines[item.index - 1];
                const below = lines[item.index + 1];
                const cell = reader.at(line);
                const first = !reader.joins(above, line);
                const target = reader.column.target;
                const path = tree.paths[number] as string;
                const by = cell.kind === "one" ? cell.outcome.by : null;
                return (
                  <div
                    role="gridcell"
                    key={target}
                    id={`cell-${item.index}-${index + 1}`}
                    aria-colindex={index + 2}
                    aria-label={`${targetName(target)}: ${cellText(cell, bySlug)}`}
                    className={cellClass(cell, {
                      first,
                      last: !reader.joins(line, below),
                      lit: by !== null && by === lit,
                      unseated: !line.closed && reader.unseated.has(number),
                      chosen: chosen.path === path && chosen.target === target,
                      active: active.row === item.index && active.column === index + 1,
                    })}
                    style={stripStyle(cell, bySlug)}
                    onMouseEnter={() => setLit(by)}
                    onClick={() => {
                      setActive({ row: item.index, column: index + 1 });
                      onChoose(path, target);
                    }}
                  >
                    <CellBody cell={cell} named={first || item.index === top} bySlug={bySlug} />
                  </div>
                );
              })}
            </div>
          );
        })}
      </div>
    </div>
  );
}

interface PageCellProps {
  line: Line;
  path: string;
  title: string;
  about: string;
  picked: boolean;
  active: boolean;
  id: string;
  onToggle: () => void;
  onPick: (upTo: boolean) => void;
}

const PageCell = memo(function PageCell({
  line,
  path,
  title,
  about,
  picked,
  active,
  id,
  onToggle,
  onPick,
}: PageCellProps) {
  const classes = ["page", picked && "picked", line.dim && "dim", active && "active"]
    .filter(Boolean)
    .join(" ");
  return (
    <div
      role="rowheader"
      id={id}
      className={classes}
      title={path}
      aria-expanded={line.hasPages ? !line.closed : undefined}
      style={{ paddingLeft: 8 + line.depth * 14 }}
    >
      <input
        type="checkbox"
        tabIndex={-1}
        checked={picked}
        aria-label={`Pick ${title}`}
        onChange={() => undefined}
        onClick={(event) => onPick(event.shiftKey)}
      />
      {line.hasPages ? (
        <button
          type="button"
          className="toggle"
          tabIndex={-1}
          aria-label={`${line.closed ? "Open" : "Close"} ${title}`}
          onClick={onToggle}
        >
          {line.closed ? "▸" : "▾"}
        </button>
      ) : (
        <span className="toggle" />
      )}
      <span className="clip">{title}</span>
      <span className="kind">{line.closed ? count(line.end - line.number, "page") : about}</span>
    </div>
  );
});

function CellBody({ cell, named, bySlug }: { cell: Cell; named: boolean; bySlug: Map<string, PieceRow> }) {
  if (cell.kind === "mix") {
    return (
      <span className="mix" title={cellText(cell, bySlug)}>
        {cell.parts.map(([outcome, pages]) => (
          <i
            key={`${outcome.state} ${outcome.pieces.join("+")}`}
            className={outcome.state === "empty" ? "hatched" : outcome.pieces.length ? "" : "dotted"}
            style={{ flex: pages, background: colourOf(outcome, bySlug) }}
          />
        ))}
      </span>
    );
  }
  if (cell.outcome.state === "locked") return <Lock />;
  return named ? <span className="clip">{outcomeText(cell.outcome, nameIn(bySlug))}</span> : null;
}

function colourOf(outcome: Shapes["OutcomeInfo"], bySlug: Map<string, PieceRow>): string | undefined {
  const filler = outcome.pieces[0];
  return filler ? (bySlug.get(filler)?.colour ?? "var(--empty)") : undefined;
}

function stripStyle(cell: Cell, bySlug: Map<string, PieceRow>) {
  const colour = cell.kind === "one" ? colourOf(cell.outcome, bySlug) : undefined;
  return colour ? ({ "--s": colour } as React.CSSProperties) : undefined;
}

interface Marks {
  first: boolean;
  last: boolean;
  lit: boolean;
  unseated: boolean;
  chosen: boolean;
  active: boolean;
}

function cellClass(cell: Cell, marks: Marks): string {
  const state = cell.kind === "one" && cell.outcome.state !== "filled" ? cell.outcome.state : "";
  const named = Object.entries(marks).flatMap(([name, holds]) => (holds ? [name] : []));
  return ["cell", state, ...named].filter(Boolean).join(" ");
}

/** An outcome in words: the pieces' names, or why there are none. */
export function outcomeText(
  outcome: Shapes["OutcomeInfo"],
  nameOf: (slug: string) => string | undefined,
): string {
  if (outcome.value !== null && outcome.value !== undefined) return String(outcome.value);
  if (outcome.state === "filled") return outcome.pieces.map((slug) => nameOf(slug) ?? slug).join(" + ");
  return { empty: "left empty", unset: "nothing set", locked: "locked" }[outcome.state];
}

const nameIn = (bySlug: Map<string, PieceRow>) => (slug: string) => bySlug.get(slug)?.name;

function cellText(cell: Cell, bySlug: Map<string, PieceRow>): string {
  if (cell.kind === "one") return outcomeText(cell.outcome, nameIn(bySlug));
  return cell.parts
    .map(([outcome, pages]) => `${outcomeText(outcome, nameIn(bySlug))} on ${pages}`)
    .join(", ");
}
