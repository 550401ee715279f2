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
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Shapes } from "../api/client";
import { Grip } from "../parts/icons";
import { useLinkTo, useSite } from "../parts/site";
import { count } from "../parts/words";
import { storeNewRule } from "./drafts";

type Row = Shapes["RuleRow"];

interface Props {
  rules: Row[];
  chosen: string | undefined;
  pages: number;
  onPlace: (id: number, place: number) => void;
}

/** The rules in cascade order, highest first, each with its reach and where it wins. */
export function RuleList({ rules, chosen, pages, onPlace }: Props) {
  const site = useSite();
  const navigate = useNavigate();
  const linkTo = useLinkTo();
  const [text, setText] = useState("");
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const fitting = rules.filter((row) =>
    `${row.rule.name} ${row.rule.note}`.toLowerCase().includes(text.toLowerCase()),
  );
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
        <input
          className="input"
          aria-label="Find rules"
          placeholder="Find rules"
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
        <Button
          variant="outlined"
          onClick={() => {
            storeNewRule(site.slug, { name: "", condition: { include: "" }, actions: [] });
            navigate(linkTo("rules/new"));
          }}
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
          items={fitting.map((row) => row.id)}
          strategy={verticalListSortingStrategy}
          disabled={text !== ""}
        >
          <ol>
            {fitting.map((row) => (
              <RuleItem key={row.id} row={row} chosen={String(row.id) === chosen} pages={pages} />
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

function RuleItem({ row, chosen, pages }: { row: Row; chosen: boolean; pages: number }) {
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
        aria-label={`Move ${row.rule.name}, number ${row.place}`}
      >
        <Grip />
      </button>
      <Link
        to={linkTo(`rules/${row.id}`)}
        className="grow"
        style={{ color: "inherit", textDecoration: "none" }}
        aria-current={chosen}
      >
        <b className="clip">{row.rule.name}</b>
        <span className="sub clip" style={{ display: "block" }}>
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

/** Priority and targets in one line; or why it does nothing now. */
function summary(row: Row): string {
  if (!(row.rule.on ?? true)) return "off";
  if (!row.let_in) return "not through this lens";
  if (row.reach === 0) return "matches no page";
  if (row.wins === 0) return "never wins through this lens";
  const priority = row.rule.priority ?? 0;
  const targets = row.by_target.map((one) => one.target.replaceAll("-", " ")).join(", ");
  return `${priority > 0 ? "+" : ""}${priority} · ${targets}`;
}
