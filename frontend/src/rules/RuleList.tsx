import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
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
import { Fragment } from "react";
import { Link } from "react-router";
import type { Shapes } from "../api/client";
import { LabelledField } from "../parts/controls";
import type { DraftEntry } from "../parts/drafts";
import { Grip } from "../parts/icons";
import { useKept } from "../parts/memory";
import { useLinkTo } from "../parts/site";
import { count } from "../parts/words";
import { isNew, useNewRule } from "./newRuleDraft";

type Row = Shapes["RuleRow"];
type Finding = Shapes["FindingInfo"];

interface Props {
  rules: Row[];
  /** Edits of rules that are not saved. */
  drafts: DraftEntry[];
  chosen: string | undefined;
  pages: number;
  /** What the checks find, by the id of the rule. */
  findings: Map<number, Finding[]>;
  onPlace: (id: number, place: number) => void;
}

/** The rules in cascade order, highest first, each with its reach and where it wins. */
export function RuleList({ rules, drafts, chosen, pages, findings, onPlace }: Props) {
  const newRule = useNewRule();
  const linkTo = useLinkTo();
  const [text, setText] = useKept("rules-text", "");
  const [pinsOpen, setPinsOpen] = useKept("pins-open", false);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const fitting = rules.filter((row) =>
    `${row.rule.name} ${row.rule.note}`.toLowerCase().includes(text.toLowerCase()),
  );
  const pins = rules.filter((row) => row.pin);
  const firstPin = text || pins.length < 2 ? null : pins[0]?.id;
  /** A pin shows by itself while it is looked for, chosen or the only one. */
  const unfolded = (row: Row) => firstPin === null || pinsOpen || String(row.id) === chosen;
  const shown = fitting;
  const named = (id: unknown) => rules.find((row) => row.id === id)?.rule.name ?? "";
  const placeOf = (id: unknown) => rules.findIndex((row) => row.id === id) + 1;
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (over && over.id !== active.id) onPlace(Number(active.id), placeOf(over.id));
  };
  // The library's own announcements speak of ids; people want names and places.
  const announcements = {
    onDragStart: ({ active }: { active: { id: unknown } }) => `Lifted ${named(active.id)}`,
    onDragOver: ({ active, over }: { active: { id: unknown }; over: { id: unknown } | null }) =>
      over ? `${named(active.id)} would be number ${placeOf(over.id)}` : undefined,
    onDragEnd: ({ active, over }: { active: { id: unknown }; over: { id: unknown } | null }) =>
      over ? `${named(active.id)} is number ${placeOf(over.id)}` : undefined,
    onDragCancel: ({ active }: { active: { id: unknown } }) => `${named(active.id)} stays where it was`,
  };
  return (
    <nav className="rule-list" aria-label="Rules, the highest first">
      <div className="row" style={{ padding: "9px 10px" }}>
        <LabelledField label="Find rules" placeholder="Find rules" value={text} onChange={setText} />
        <Button
          variant="outlined"
          onClick={() => newRule({ name: "", condition: { include: "" }, actions: [] })}
        >
          New rule
        </Button>
      </div>
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragEnd={onDragEnd}
        accessibility={{ announcements }}
      >
        <SortableContext
          items={shown.filter((row) => !row.pin || unfolded(row)).map((row) => row.id)}
          strategy={verticalListSortingStrategy}
          disabled={text !== ""}
        >
          <ol>
            {drafts
              .filter((draft) => isNew(draft.id))
              .map((draft) => (
                <li key={draft.id} className={draft.id === chosen ? "rule-item on" : "rule-item"}>
                  <Link
                    className="grow plainly"
                    to={linkTo(`rules/${draft.id}`)}
                    aria-current={draft.id === chosen}
                  >
                    <b className="clip">{draft.name || "New rule"}</b>
                    <span className="sub unsaved">new, not saved yet</span>
                  </Link>
                </li>
              ))}
            {shown.map((row) => (
              <Fragment key={row.id}>
                {row.id === firstPin && (
                  <li className="rule-item">
                    <button
                      type="button"
                      className="plain grow"
                      aria-expanded={pinsOpen}
                      onClick={() => setPinsOpen(!pinsOpen)}
                    >
                      <b>
                        {pinsOpen ? "▾" : "▸"} {count(pins.length, "pin")}
                      </b>
                      <span className="sub" style={{ display: "block" }}>
                        choices made on {count(new Set(pins.map((pin) => pin.pin)).size, "page")} each alone
                      </span>
                    </button>
                  </li>
                )}
                {(!row.pin || unfolded(row)) && (
                  <RuleItem
                    row={row}
                    chosen={String(row.id) === chosen}
                    unsaved={drafts.some((draft) => draft.id === String(row.id))}
                    pages={pages}
                    findings={findings.get(row.id) ?? NONE}
                  />
                )}
              </Fragment>
            ))}
          </ol>
        </SortableContext>
      </DndContext>
      {text && (
        <p className="mute" style={{ padding: "0 10px 10px" }}>
          {count(fitting.length, "rule")} found. Order can be changed when all are shown.
        </p>
      )}
    </nav>
  );
}

const NONE: Finding[] = [];

interface ItemProps {
  row: Row;
  chosen: boolean;
  unsaved: boolean;
  pages: number;
  findings: Finding[];
}

function RuleItem({ row, chosen, unsaved, pages, findings }: ItemProps) {
  const linkTo = useLinkTo();
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id: row.id });
  const on = row.rule.on ?? true;
  const won = Math.min(row.wins, row.reach);
  const share = (number: number) => `${pages ? (100 * number) / pages : 0}%`;
  return (
    <li
      ref={setNodeRef}
      className={["rule-item", chosen && "on", !on && "off"].filter(Boolean).join(" ")}
      style={{ transform: CSS.Translate.toString(transform), transition }}
    >
      <button
        type="button"
        className="handle"
        {...attributes}
        {...listeners}
        aria-label={`Move ${row.rule.name}, number ${row.position}`}
      >
        <Grip />
      </button>
      <Link
        to={linkTo(`rules/${row.id}`)}
        className="grow"
        style={{ color: "inherit", textDecoration: "none" }}
        aria-current={chosen}
      >
        <span className="row">
          <b className="clip grow">{row.rule.name}</b>
          {findings.length > 0 && (
            <span
              className={`mark ${findings[0]?.severity}`}
              title={findings.map((one) => one.what).join("\n")}
            >
              {count(findings.length, "finding")}
            </span>
          )}
        </span>
        <span className="sub clip" style={{ display: "block" }}>
          {unsaved && <b className="unsaved">edited, not saved · </b>}
          {summary(row)}
        </span>
        <div
          className="meter"
          role="img"
          aria-label={`Reaches ${count(row.reach, "page")}, wins on ${row.wins}`}
        >
          <i style={{ width: share(won) }} />
          <i style={{ width: share(row.reach - won) }} />
        </div>
      </Link>
    </li>
  );
}

/** The frame of the list while its rules are on their way. */
export function RuleListFrame() {
  return (
    <nav className="rule-list" aria-label="Rules, the highest first" aria-busy="true">
      <ol>
        {Array.from({ length: 12 }, (_, number) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: blank lines are all alike
          <li key={number} className="rule-item blank" />
        ))}
      </ol>
    </nav>
  );
}

/** Priority and targets in one line; or why it does nothing now. */
function summary(row: Row): string {
  if (!(row.rule.on ?? true)) return "off";
  if (!row.lets_in) return "not through this lens";
  if (row.reach === 0) return "matches no page";
  if (row.wins === 0 && row.unplaced === 1) return "no place on the page it wins";
  if (row.wins === 0 && row.unplaced) return `no place on any of ${count(row.unplaced, "page")}`;
  if (row.wins === 0) return "never wins through this lens";
  const priority = row.rule.priority ?? 0;
  const targets = row.by_target.map((one) => one.target.replaceAll("-", " ")).join(", ");
  return `${priority > 0 ? "+" : ""}${priority} · ${targets}`;
}
