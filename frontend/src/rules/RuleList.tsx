import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  type DragOverEvent,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { SortableContext, verticalListSortingStrategy } from "@dnd-kit/sortable";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { Fragment, memo, useMemo, useState } from "react";
import { Link } from "react-router";
import type { Shapes } from "../api/client";
import { editsQuery } from "../api/queries";
import { trialQuery } from "../api/ruleQueries";
import { Chooser, LabelledField } from "../parts/controls";
import type { DraftEntry } from "../parts/drafts";
import { useAddressed, useKept } from "../parts/memory";
import { isNew } from "../parts/newDraft";
import { useLinkTo, useSite } from "../parts/site";
import { useDebounced } from "../parts/useDebounced";
import { useLines } from "../parts/useLines";
import { useSteadyCall } from "../parts/useSteady";
import { count, targetName } from "../parts/words";
import {
  bandName,
  bandsOf,
  editorsOf,
  type Filter,
  filtersOf,
  fits,
  inOrder,
  priorityOf,
  type Row,
} from "./bands";
import { groupsOf, useGroups } from "./groups";
import { keyboardPlaces } from "./keyboardPlaces";
import { RuleItem } from "./RuleItem";
import { SeveralBar } from "./SeveralBar";
import { useNewRule } from "./useNewRule";

type Finding = Shapes["FindingInfo"];

interface Props {
  rules: Row[];
  /** Edits of rules that are not saved. */
  drafts: DraftEntry[];
  chosen: string | undefined;
  pages: number;
  /** What the checks find, by the id of the rule. */
  findings: Map<number, Finding[]>;
  /** Move a rule to the place of another, and into its priority. */
  onPlace: (moved: Row, over: Row, number: number) => void;
  /** Switch a rule off or on, at once. */
  onSwitch: (row: Row) => void;
  onCopy: (row: Row) => void;
}

const NONE: Finding[] = [];
/** The line that the pins are folded into. */
const FOLD = "pins";

/** The rules as they win, by priority and place, each with its reach and where it wins. */
export const RuleList = memo(function RuleList(props: Props) {
  const { rules, drafts, chosen, pages, findings, onPlace, onSwitch, onCopy } = props;
  const newRule = useNewRule();
  const linkTo = useLinkTo();
  const [text, setText] = useAddressed("find", useKept("rules-text", ""), "");
  const [stated, setFilter] = useAddressed<Filter>("show", useKept("rules-filter", "all"), "all");
  const [target, setTarget] = useAddressed("acts", useKept("rules-target", ""), "");
  const [groups, setGroups] = useGroups();
  const [pinsOpen, setPinsOpen] = useKept("pins-open", false);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: keyboardPlaces }),
  );
  const [several, setSeveral] = useState<Set<number> | null>(null);
  const [lifted, setLifted] = useState<{ row: Row; over: Row } | null>(null);
  const edits = useQuery(editsQuery(useSite().slug)).data?.items;
  const editors = useMemo(() => editorsOf(edits ?? []), [edits]);
  const filters = filtersOf(editors, groups);
  // A group may be gone by now.
  const filter = stated.startsWith("in ") && !filters.some(([known]) => known === stated) ? "all" : stated;
  const ordered = inOrder(rules);
  const narrowed = text !== "" || filter !== "all" || target !== "";
  const fitting = ordered.filter(
    (row) =>
      `${row.rule.name} ${row.rule.note} ${row.where}`.toLowerCase().includes(text.toLowerCase()) &&
      fits(row, filter, {
        findings: findings.get(row.id)?.length ?? 0,
        editors: editors.get(row.id),
        groups: groupsOf(groups, row.id),
      }) &&
      (!target || row.by_target.some((one) => one.target === target)),
  );
  const pins = rules.filter((row) => row.pin);
  const firstPin = narrowed || pins.length < 2 ? null : ordered.find((row) => row.pin)?.id;
  /** A pin shows by itself while it is looked for, chosen or the only one. */
  const unfolded = (row: Row) => firstPin === null || pinsOpen || String(row.id) === chosen;
  const places = new Map<unknown, number>(ordered.map((row, at) => [row.id, at]));
  const rowOf = (id: unknown) => ordered[places.get(id) as number] as Row;
  const placeOf = (id: unknown) => (places.get(id) as number) + 1;
  const onDragOver = ({ active, over }: DragOverEvent) =>
    setLifted(over && over.id !== active.id ? { row: rowOf(active.id), over: rowOf(over.id) } : null);
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    setLifted(null);
    if (over && over.id !== active.id) onPlace(rowOf(active.id), rowOf(over.id), placeOf(over.id));
  };
  const where = (id: unknown, over: unknown) => {
    const priority = priorityOf(rowOf(over));
    return priority === priorityOf(rowOf(id)) ? "" : `, with priority ${priority}`;
  };
  const named = (id: unknown) => rowOf(id).rule.name;
  // The library's own announcements speak of ids; people want names and places.
  const announcements = {
    onDragStart: ({ active }: { active: { id: unknown } }) => `Lifted ${named(active.id)}`,
    onDragOver: ({ active, over }: { active: { id: unknown }; over: { id: unknown } | null }) =>
      over
        ? `${named(active.id)} would be number ${placeOf(over.id)}${where(active.id, over.id)}`
        : undefined,
    onDragEnd: ({ active, over }: { active: { id: unknown }; over: { id: unknown } | null }) =>
      over ? `${named(active.id)} is number ${placeOf(over.id)}${where(active.id, over.id)}` : undefined,
    onDragCancel: ({ active }: { active: { id: unknown } }) => `${named(active.id)} stays where it was`,
  };
  const toggle = useSteadyCall(({ id }: Row) => {
    const next = new Set(several);
    if (!next.delete(id)) next.add(id);
    setSeveral(next);
  });
  const fresh = drafts.filter((draft) => isNew(draft.id));
  const shown = fitting.filter((row) => !row.pin || unfolded(row));
  const { tabIndex, list } = useLines(
    [
      ...fresh.map((draft) => draft.id),
      ...(firstPin === null ? [] : [FOLD]),
      ...shown.map((row) => String(row.id)),
    ],
    chosen ?? String(shown[0]?.id),
  );
  const targets = [...new Set(rules.flatMap((row) => row.by_target.map((one) => one.target)))].sort();
  return (
    <nav className="rule-list" aria-label="Rules, the highest first">
      <div className="row" style={{ padding: "9px 10px 6px" }}>
        <LabelledField label="Find rules" placeholder="Find rules" value={text} onChange={setText} />
        <Button
          variant="outlined"
          onClick={() => newRule({ name: "", condition: { include: "" }, actions: [] })}
        >
          New rule
        </Button>
      </div>
      <div className="row" style={{ padding: "0 10px 8px" }}>
        <Chooser label="Which rules" value={filter} options={filters} onChange={setFilter} />
        <Chooser
          label="Rules that act on"
          value={target}
          options={[["", "on anything"], ...targets.map((name) => [name, targetName(name)] as const)]}
          onChange={setTarget}
        />
        <Button
          variant="text"
          sx={{ minWidth: 0, px: 0.5 }}
          aria-pressed={several !== null}
          onClick={() => setSeveral(several ? null : new Set())}
        >
          Several
        </Button>
      </div>
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragOver={onDragOver}
        onDragCancel={() => setLifted(null)}
        onDragEnd={onDragEnd}
        accessibility={{ announcements }}
      >
        <SortableContext
          items={shown.map((row) => row.id)}
          strategy={verticalListSortingStrategy}
          disabled={narrowed}
        >
          <div className="bands" {...list}>
            {fresh.length > 0 && (
              <ol>
                {fresh.map((draft) => (
                  <li
                    key={draft.id}
                    data-line={draft.id}
                    className={draft.id === chosen ? "rule-item on" : "rule-item"}
                  >
                    <Link
                      tabIndex={tabIndex(draft.id)}
                      className="grow plainly"
                      to={linkTo(`rules/${draft.id}`)}
                      aria-current={draft.id === chosen}
                    >
                      <b className="clip">{draft.name || "New rule"}</b>
                      <span className="sub unsaved">new, not saved yet</span>
                    </Link>
                  </li>
                ))}
              </ol>
            )}
            {bandsOf(fitting).map((band) => (
              <section key={band.priority} aria-label={bandName(band.priority)}>
                <h2 className="band">
                  {bandName(band.priority)} <span className="mute">{count(band.rules.length, "rule")}</span>
                </h2>
                <ol>
                  {band.rules.map((row) => (
                    <Fragment key={row.id}>
                      {row.id === firstPin && (
                        <li className="rule-item" data-line={FOLD}>
                          <button
                            type="button"
                            tabIndex={tabIndex(FOLD)}
                            className="plain grow"
                            aria-expanded={pinsOpen}
                            onClick={() => setPinsOpen(!pinsOpen)}
                          >
                            <b>
                              {pinsOpen ? "▾" : "▸"} {count(pins.length, "pin")}
                            </b>
                            <span className="sub">
                              choices made on {count(new Set(pins.map((pin) => pin.pin)).size, "page")} each
                              alone
                            </span>
                          </button>
                        </li>
                      )}
                      {(!row.pin || unfolded(row)) && (
                        <RuleItem
                          row={row}
                          number={placeOf(row.id)}
                          chosen={String(row.id) === chosen}
                          unsaved={drafts.some((draft) => draft.id === String(row.id))}
                          pages={pages}
                          findings={findings.get(row.id) ?? NONE}
                          groups={groupsOf(groups, row.id)}
                          picked={several ? several.has(row.id) : null}
                          tabIndex={tabIndex(String(row.id))}
                          onPick={toggle}
                          onSwitch={onSwitch}
                          onCopy={onCopy}
                        />
                      )}
                    </Fragment>
                  ))}
                </ol>
              </section>
            ))}
          </div>
        </SortableContext>
      </DndContext>
      {lifted && <Placed row={lifted.row} over={lifted.over} number={placeOf(lifted.over.id)} />}
      {several && (
        <SeveralBar
          ids={[...several]}
          groups={groups}
          onGroups={setGroups}
          all={() => setSeveral(new Set(fitting.map((row) => row.id)))}
          onClose={() => setSeveral(null)}
        />
      )}
      {narrowed && (
        <p className="mute" style={{ padding: "0 10px 10px" }}>
          {count(fitting.length, "rule")} of {rules.length}. Order can be changed when all are shown.
        </p>
      )}
    </nav>
  );
});

/** Where a rule that is held would stand, and what that would change, before it is let go. */
function Placed({ row, over, number }: { row: Row; over: Row; number: number }) {
  const site = useSite();
  const priority = priorityOf(over);
  const rule = { ...row.rule, priority };
  const asked = useDebounced({ rule, id: row.id, position: over.position }, 120);
  const found = useQuery(trialQuery(site.slug, asked)).data;
  return (
    <p className="placed" role="status">
      {row.rule.name} as number {number}
      {priority !== priorityOf(row) && `, with priority ${priority}`}
      {found ? `: changes ${count(found.pages, "page")}` : " …"}
    </p>
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
