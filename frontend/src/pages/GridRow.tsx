import { type CSSProperties, memo } from "react";
import type { Shapes } from "../api/client";
import type { Tree } from "../api/queries";
import { Lock } from "../parts/icons";
import type { PieceRow } from "../parts/site";
import { TemplateGlyph } from "../parts/TemplateGlyph";
import { count, outcomeText, targetName } from "../parts/words";
import { Mark, type PageMarks } from "./marks";
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
  /** Look at the page as a whole. */
  open: (row: number, path: string) => void;
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
  /** Whether other pages have its title too. */
  shared: boolean;
  picked: boolean;
  /** Whether it is among the rows that are being drawn over. */
  dragged: boolean;
  ghost: "added" | "missed" | undefined;
  /** The column of the cell that the arrows stand on, null in another row. */
  active: number | null;
  /** The target of the cell whose trace is open, null in another row. */
  chosen: string | null;
  /** The rule whose pages are lit up. */
  lit: number | null;
  /** Whether strips that come from above are named here, as it is the first row in sight. */
  named: boolean;
  /** The choices that the page has of its own, by target. */
  marks: PageMarks | undefined;
  /** The targets in which it is not the same for everyone, where that is asked for. */
  unlike: Set<string> | undefined;
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
        shared={props.shared}
        about={tree.types[number] || (tree.kinds[number] as string)}
        opened={props.chosen === ""}
        dragged={props.dragged}
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
        const mark = cell.kind === "one" ? props.marks?.get(target) : undefined;
        const unlike = cell.kind === "one" && props.unlike?.has(target);
        const owner = cell.kind === "one" ? reader.owner(number) : "";
        return (
          <div
            role="gridcell"
            key={target}
            id={`cell-${row}-${index + 1}`}
            aria-colindex={index + 2}
            aria-label={`${targetName(target)}: ${cellText(cell, bySlug)}${owner && `, ${owner}`}`}
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
            <CellBody cell={cell} named={first || props.named} owner={owner} bySlug={bySlug} />
            {(mark || unlike) && (
              <span className="cell-marks">
                <Mark kind={mark?.kind} about={mark?.about} />
                {unlike && <Mark kind="unlike" />}
              </span>
            )}
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
  shared: boolean;
  about: string;
  /** Whether it is the page that is looked at as a whole. */
  opened: boolean;
  dragged: boolean;
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
  shared,
  about,
  opened,
  dragged,
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
    opened && "opened",
    dragged && "dragged",
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
      {/* The browser's own: scrolling brings several new rows a frame. */}
      <input
        type="checkbox"
        className="pick"
        checked={picked}
        tabIndex={-1}
        aria-label={`Pick ${title}`}
        onChange={(event) =>
          line.group
            ? actions.pickSection(line)
            : actions.pick(row, line.number, (event.nativeEvent as MouseEvent).shiftKey)
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
      {/* biome-ignore lint/a11y/noStaticElementInteractions: the grid has the keys; this is their way by pointer */}
      <span
        className="clip page-title"
        onClick={() => (line.group ? actions.toggle(line) : actions.open(row, path))}
      >
        {title}
        {shared && <span className="page-where">{path}</span>}
      </span>
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

interface BodyProps {
  cell: Cell;
  named: boolean;
  /** Who owns the place, where it is locked and that is told. */
  owner: string;
  bySlug: Map<string, PieceRow>;
}

function CellBody({ cell, named, owner, bySlug }: BodyProps) {
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
  if (cell.outcome.state === "locked")
    return (
      <span className="row clip" title={owner || undefined}>
        <Lock /> <span className="clip">{owner}</span>
      </span>
    );
  if (!named) return null;
  const [first, ...others] = cell.outcome.pieces;
  const template = bySlug.get(first ?? "");
  const text = outcomeText(cell.outcome, nameIn(bySlug));
  return (
    <>
      {template?.kind === "template" && <TemplateGlyph piece={template} />}
      {others.length === 0 ? (
        <span className="clip">{text}</span>
      ) : (
        <span className="clip stacked" title={text}>
          {nameIn(bySlug)(first ?? "") ?? first} <b>+{others.length}</b>
        </span>
      )}
    </>
  );
}

/** The colour of what stands there: its first piece's; a setting that a rule sets has the interface's own. */
function colourOf(outcome: Shapes["OutcomeInfo"], bySlug: Map<string, PieceRow>): string | undefined {
  if (outcome.state === "filled" && outcome.value !== null) return "var(--accent)";
  const filler = outcome.pieces[0];
  return filler ? (bySlug.get(filler)?.colour ?? "var(--empty)") : undefined;
}

/** The colours of a strip: where several pieces stand in one place, they lie side by side. */
function stripStyle(cell: Cell, bySlug: Map<string, PieceRow>) {
  const colour = cell.kind === "one" ? colourOf(cell.outcome, bySlug) : undefined;
  if (!colour || cell.kind !== "one") return undefined;
  const others = cell.outcome.pieces.slice(1, 3).map((slug) => bySlug.get(slug)?.colour ?? "var(--empty)");
  const [second, third] = others;
  return {
    "--s": colour,
    ...(second && { "--s2": second }),
    ...(third && { "--s3": third }),
  } as CSSProperties;
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
