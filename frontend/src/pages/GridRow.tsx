import Checkbox from "@mui/material/Checkbox";
import { type CSSProperties, memo } from "react";
import type { Shapes } from "../api/client";
import type { Tree } from "../api/queries";
import { Lock } from "../parts/icons";
import type { PieceRow } from "../parts/site";
import { TemplateGlyph } from "../parts/TemplateGlyph";
import { count, outcomeText, targetName } from "../parts/words";
import { bandKey, type Cell, type ColumnCells } from "./strips";
import { type Line, sectionOf } from "./tree";

/** What a condition that is thought about would do: add pages to the picked ones, or miss some of them. */
export type Ghosts = Map<number, "added" | "missed">;

/** What a row tells the list; the same functions for as long as the list stands, so that rows need not redraw. */
export interface RowActions {
  toggle: (line: Line) => void;
  pick: (row: number, number: number, upTo: boolean) => void;
  pickSection: (line: Line) => void;
  choose: (row: number, column: number, path: string, target: string) => void;
  light: (rule: number | null) => void;
}

interface RowProps {
  row: number;
  top: number;
  template: string;
  tree: Tree;
  above: Line | undefined;
  line: Line;
  below: Line | undefined;
  cells: ColumnCells[];
  bySlug: Map<string, PieceRow>;
  picked: boolean;
  ghost: "added" | "missed" | undefined;
  /** The column of the cell that the arrows stand on, null in another row. */
  active: number | null;
  /** The target of the cell whose trace is open, null in another row. */
  chosen: string | null;
  /** The rule whose pages are lit up. */
  lit: number | null;
  /** Whether strips that come from above are named here, as it is the first row in sight. */
  named: boolean;
  actions: RowActions;
}

/** One page with its strips. */
export const GridRow = memo(function GridRow(props: RowProps) {
  const { row, line, tree, cells, bySlug, actions } = props;
  const number = line.number;
  const path = tree.paths[number] as string;
  return (
    <div
      className="line"
      role="row"
      aria-rowindex={row + 2}
      aria-selected={props.picked}
      style={{ position: "absolute", top: props.top, gridTemplateColumns: props.template }}
    >
      <PageCell
        line={line}
        path={path}
        title={line.group?.name ?? (tree.titles[number] as string)}
        about={tree.types[number] || (tree.kinds[number] as string)}
        picked={props.picked}
        ghost={props.ghost}
        active={props.active === 0}
        row={row}
        actions={actions}
      />
      {cells.map((reader, index) => {
        const cell = reader.at(line);
        const first = !reader.joins(props.above, line);
        const target = reader.column.target;
        const by = cell.kind === "one" ? cell.outcome.by : null;
        return (
          <div
            role="gridcell"
            key={target}
            id={`cell-${row}-${index + 1}`}
            aria-colindex={index + 2}
            aria-label={`${targetName(target)}: ${cellText(cell, bySlug)}`}
            className={cellClass(cell, {
              first,
              last: !reader.joins(line, props.below),
              lit: by !== null && by === props.lit,
              unseated: !line.closed && !line.group && reader.unseated.has(number),
              chosen: props.chosen === target,
              active: props.active === index + 1,
            })}
            style={stripStyle(cell, bySlug)}
            onMouseEnter={() => actions.light(by)}
            onClick={() => actions.choose(row, index + 1, path, target)}
          >
            <CellBody cell={cell} named={first || props.named} bySlug={bySlug} />
          </div>
        );
      })}
    </div>
  );
});

interface PageCellProps {
  line: Line;
  path: string;
  title: string;
  about: string;
  picked: boolean;
  ghost: "added" | "missed" | undefined;
  active: boolean;
  row: number;
  actions: RowActions;
}

const PageCell = memo(function PageCell({
  line,
  path,
  title,
  about,
  picked,
  ghost,
  active,
  row,
  actions,
}: PageCellProps) {
  const classes = [
    "page",
    picked && "picked",
    ghost,
    line.group && "group",
    line.dim && "dim",
    active && "active",
  ]
    .filter(Boolean)
    .join(" ");
  return (
    <div
      role="rowheader"
      id={`cell-${row}-0`}
      className={classes}
      title={line.group ? undefined : path}
      aria-expanded={line.hasPages ? !line.closed : undefined}
      style={{ paddingLeft: 8 + line.depth * 14 }}
    >
      <Checkbox
        className="pick"
        checked={picked}
        slotProps={{ input: { tabIndex: -1, "aria-label": `Pick ${title}` } }}
        onClick={(event) =>
          line.group ? actions.pickSection(line) : actions.pick(row, line.number, event.shiftKey)
        }
      />
      {line.hasPages ? (
        <button
          type="button"
          className="toggle"
          tabIndex={-1}
          aria-label={`${line.closed ? "Open" : "Close"} ${title}`}
          onClick={() => actions.toggle(line)}
        >
          {line.closed ? "▸" : "▾"}
        </button>
      ) : (
        <span className="toggle" />
      )}
      <span className="clip">{title}</span>
      {ghost && <span className="ghost">{ghost === "added" ? "would come in" : "would be missed"}</span>}
      {line.hasPages && !line.group && (
        <button
          type="button"
          className="pick-section"
          tabIndex={-1}
          title="Pick this page and all below it (S)"
          onClick={() => actions.pickSection(line)}
        >
          pick all
        </button>
      )}
      <span className="kind">
        {line.closed || line.group ? count(sectionOf(line).length, "page") : about}
      </span>
    </div>
  );
});

function CellBody({ cell, named, bySlug }: { cell: Cell; named: boolean; bySlug: Map<string, PieceRow> }) {
  if (cell.kind === "mix") {
    return (
      <span className="mix" title={cellText(cell, bySlug)}>
        {cell.parts.map(([outcome, pages]) => (
          <i
            key={bandKey(outcome)}
            className={outcome.state === "empty" ? "hatched" : outcome.state === "filled" ? "" : "dotted"}
            style={{ flex: pages, background: colourOf(outcome, bySlug) }}
          />
        ))}
      </span>
    );
  }
  if (cell.outcome.state === "locked") return <Lock />;
  if (!named) return null;
  const template = bySlug.get(cell.outcome.pieces[0] ?? "");
  return (
    <>
      {template?.kind === "template" && <TemplateGlyph piece={template} />}
      <span className="clip">{outcomeText(cell.outcome, nameIn(bySlug))}</span>
    </>
  );
}

/** The colour of what stands there: its first piece's; a setting that a rule sets has the interface's own. */
function colourOf(outcome: Shapes["OutcomeInfo"], bySlug: Map<string, PieceRow>): string | undefined {
  if (outcome.state === "filled" && outcome.value !== null) return "var(--accent)";
  const filler = outcome.pieces[0];
  return filler ? (bySlug.get(filler)?.colour ?? "var(--empty)") : undefined;
}

function stripStyle(cell: Cell, bySlug: Map<string, PieceRow>) {
  const colour = cell.kind === "one" ? colourOf(cell.outcome, bySlug) : undefined;
  return colour ? ({ "--s": colour } as CSSProperties) : undefined;
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

const nameIn = (bySlug: Map<string, PieceRow>) => (slug: string) => bySlug.get(slug)?.name;

function cellText(cell: Cell, bySlug: Map<string, PieceRow>): string {
  if (cell.kind === "one") return outcomeText(cell.outcome, nameIn(bySlug));
  return cell.parts
    .map(([outcome, pages]) => `${outcomeText(outcome, nameIn(bySlug))} on ${pages}`)
    .join(", ");
}
