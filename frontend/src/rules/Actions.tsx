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
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import Button from "@mui/material/Button";
import Popover from "@mui/material/Popover";
import { useState } from "react";
import type { Shapes } from "../api/client";
import { ChoosePiece } from "../parts/ChoosePiece";
import { Chooser } from "../parts/controls";
import { Grip } from "../parts/icons";
import { PieceName } from "../parts/PieceName";
import { SettingValue, usualValue } from "../parts/SettingValue";
import { usePieces, useSite } from "../parts/site";
import { count, DOES, kindFor, settingOf, targetName, targetOf } from "../parts/words";

import { PlaceMap } from "./PlaceMap";

type Action = Shapes["ActionTree"];

interface Props {
  actions: Action[];
  wins: Map<string, Shapes["TargetMeasures"]>;
  reached: number;
  includes: boolean;
  /** A page that the rule reaches; the site's first where it reaches none. */
  path: string;
  problemAt: (pointer: string) => string | undefined;
  onChange: (actions: Action[]) => void;
}

const ADDING = ["prepend", "append"];

/** What a rule does: a line a target. */
export function Actions({ actions, wins, reached, includes, path, problemAt, onChange }: Props) {
  const site = useSite();
  const targets = ["template", ...site.slots, ...site.settings.map((setting) => `setting:${setting.name}`)];
  const change = (place: number, action: Action) =>
    onChange(actions.map((known, at) => (at === place ? action : known)));
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  // An action is known by its place, and ids begin with 1.
  const ids = actions.map((_, place) => place + 1);
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (over) onChange(arrayMove(actions, Number(active.id) - 1, Number(over.id) - 1));
  };
  const nameAt = (id: unknown) => {
    const action = actions[Number(id) - 1];
    return (action && targetName(targetOf(action))) || "The line";
  };
  type Held = { active: { id: unknown }; over: { id: unknown } | null };
  const announcements = {
    onDragStart: ({ active }: Pick<Held, "active">) => `Lifted ${nameAt(active.id)}`,
    onDragOver: ({ active, over }: Held) =>
      over ? `${nameAt(active.id)} would be line ${over.id}` : undefined,
    onDragEnd: ({ active, over }: Held) => (over ? `${nameAt(active.id)} is line ${over.id}` : undefined),
    onDragCancel: ({ active }: Pick<Held, "active">) => `${nameAt(active.id)} stays where it was`,
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={onDragEnd}
      accessibility={{ announcements }}
    >
      <SortableContext items={ids} strategy={verticalListSortingStrategy}>
        {actions.map((action, place) => (
          <Doing
            // biome-ignore lint/suspicious/noArrayIndexKey: an action is its place; a rule may state the same twice
            key={place}
            id={place + 1}
            action={action}
            targets={targets}
            wins={wins.get(targetOf(action))}
            reached={reached}
            includes={includes}
            problem={problemAt(`/actions/${place}`)}
            onChange={(changed) => change(place, changed)}
            onRemove={() => onChange(actions.filter((_, at) => at !== place))}
          />
        ))}
      </SortableContext>
      <div className="row" style={{ borderTop: "1px solid var(--line)", paddingTop: 8 }}>
        <button type="button" className="token add" onClick={() => onChange([...actions, UNSET])}>
          + something
        </button>
        <PlaceMap path={path} onChoose={(target) => onChange([...actions, blankOn(target)])} />
      </div>
    </DndContext>
  );
}

/** An action before anything about it is chosen. */
const UNSET: Action = { do: "fill", slot: "" };

/** An action on a target before it is chosen what is put there. */
const blankOn = (target: string): Action =>
  target === "template" ? { do: "use" } : { do: "fill", slot: target };

/** The action on another target, with what it acts with where that fits there too. */
function onTarget(
  action: Action,
  target: string,
  kindOf: (slug: string) => string | undefined,
  settings: Shapes["SettingTree"][],
): Action {
  const setting = settings.find((one) => one.name === settingOf(target));
  if (setting) return { do: "set", setting: setting.name, value: usualValue(setting) };
  const piece = action.piece ?? action.template;
  const fits = (kind: string) => (piece && kindOf(piece) === kind ? piece : undefined);
  if (target === "template") return { do: "use", template: fits("template") };
  const doing = action.do === "use" || action.do === "set" ? "fill" : action.do;
  const kept = fits(ADDING.includes(doing) ? "widget" : kindFor(target));
  return { do: doing, slot: target, ...(kept && doing !== "empty" ? { piece: kept } : {}) };
}

interface DoingProps {
  id: number;
  action: Action;
  targets: string[];
  wins: Shapes["TargetMeasures"] | undefined;
  reached: number;
  includes: boolean;
  problem: string | undefined;
  onChange: (action: Action) => void;
  onRemove: () => void;
}

function Doing({ id, action, targets, wins, reached, includes, problem, onChange, onRemove }: DoingProps) {
  const { bySlug } = usePieces();
  const { settings } = useSite();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id });
  const target = targetOf(action);
  const held = { ref: setNodeRef, style: { transform: CSS.Translate.toString(transform), transition } };
  const handle = (
    <button
      type="button"
      className="handle"
      {...attributes}
      {...listeners}
      aria-label={`Move ${targetName(target) || "this line"}, line ${id}`}
    >
      <Grip />
    </button>
  );
  const piece = action.piece ?? action.template;
  const where = (
    <Chooser
      label="Place on the page"
      nothing="choose where …"
      value={target}
      options={targets.map((name) => [name, targetName(name)] as const)}
      onChange={(wanted) => onChange(onTarget(action, wanted, (slug) => bySlug.get(slug)?.kind, settings))}
    />
  );
  const wrong = problem && (
    <p className="field-error" role="alert">
      {problem}
    </p>
  );
  const setting = settings.find((one) => action.do === "set" && one.name === action.setting);
  if (setting)
    return (
      <>
        <div className="doing" {...held}>
          {handle}
          {where}
          <span className="mute">set to</span>
          <SettingValue
            setting={setting}
            label={`Value of ${targetName(target)}`}
            value={action.value}
            onChange={(value) => onChange({ ...action, value })}
          />
          <span className="mute counts">{wins && includes ? `wins ${wins.pages} of ${reached}` : ""}</span>
          <RemoveAction name={targetName(target)} onRemove={onRemove} />
        </div>
        {wrong}
      </>
    );
  const kind = ADDING.includes(action.do) ? "widget" : kindFor(target);
  const doings: Action["do"][] = target === "template" ? ["use"] : ["fill", "empty", "prepend", "append"];
  const named = piece ? (bySlug.get(piece)?.name ?? piece) : `choose a ${kind} …`;
  const setDoing = (doing: Action["do"]) => {
    const wanted = ADDING.includes(doing) ? "widget" : kindFor(target);
    const keeps = doing !== "empty" && piece && bySlug.get(piece)?.kind === wanted;
    onChange({ do: doing, slot: target, ...(keeps ? { piece } : {}) });
  };
  const choose = (slug: string) => {
    setAnchor(null);
    const { exclusive } = action;
    onChange(
      action.do === "use"
        ? { do: "use", template: slug }
        : { do: action.do, slot: target, piece: slug, ...(exclusive ? { exclusive } : {}) },
    );
  };
  return (
    <>
      <div className="doing" {...held}>
        {handle}
        {where}
        <Chooser
          label={`What to do with ${targetName(target) || "it"}`}
          disabled={target === ""}
          value={action.do}
          options={doings.map((doing) => [doing, DOES[doing] ?? doing] as const)}
          onChange={setDoing}
        />
        {action.do === "empty" || target === "" ? (
          <span />
        ) : (
          <button
            type="button"
            className="choose plain"
            style={{ padding: "4px 6px" }}
            aria-haspopup="dialog"
            aria-label={`Piece for ${targetName(target)}: ${named}`}
            onClick={(event) => setAnchor(event.currentTarget)}
          >
            {piece ? <PieceName slug={piece} /> : <span className="mute">{named}</span>}
          </button>
        )}
        <span className="mute counts">
          {wins && includes
            ? `${ADDING.includes(action.do) ? "added on" : "wins"} ${wins.pages} of ${reached}`
            : ""}
          {wins && wins.unplaced > 0 && (
            <span className="warn">no place on {count(wins.unplaced, "page")}</span>
          )}
        </span>
        <RemoveAction name={targetName(target) || "this line"} onRemove={onRemove} />
      </div>
      {wrong}
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: "bottom", horizontal: "left" }}
      >
        <div className="popover" role="dialog" aria-label={`Choose a ${kind}`}>
          <ChoosePiece kinds={[kind]} label={`Choose a ${kind}`} onChoose={choose} />
        </div>
      </Popover>
    </>
  );
}

function RemoveAction({ name, onRemove }: { name: string; onRemove: () => void }) {
  return (
    <Button
      variant="text"
      color="inherit"
      aria-label={`Take away ${name}`}
      onClick={onRemove}
      style={{ minWidth: 28 }}
    >
      ×
    </Button>
  );
}
