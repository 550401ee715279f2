import Button from "@mui/material/Button";
import Popover from "@mui/material/Popover";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { answer, api, Problem } from "../api/client";
import { itemTypesQuery, pictureQuery } from "../api/queries";
import { ChoosePiece } from "../parts/ChoosePiece";
import { useDraft } from "../parts/drafts";
import { Frame } from "../parts/Frame";
import { useMessage, useTellError } from "../parts/messages";
import { PieceName } from "../parts/PieceName";
import { QueryField } from "../parts/QueryField";
import { type PieceRow, useLinkTo, usePiecePages, useRefresh, useSite } from "../parts/site";
import { useDebounced } from "../parts/useDebounced";
import { count } from "../parts/words";
import { ItemEditor, itemName } from "./ItemEditor";
import { NamedForm } from "./NamedForm";
import { type Item, itemsOf, moved, type PieceTree, pieceTree, styleOf, withContent } from "./tree";

const WIDTHS = [
  ["Desktop", 1280],
  ["Tablet", 800],
  ["Phone", 390],
] as const;
const ARRANGEMENTS = ["stack", "row", "split", "columns"];
const DRAWN_HEIGHT: Record<string, number> = { header: 240, title: 300, footer: 520 };

/** Whether two forms of a piece say the same. */
const samePiece = (a: PieceTree, b: PieceTree) =>
  JSON.stringify(pieceTree(a)) === JSON.stringify(pieceTree(b));

/** The editor of a piece: its items, its looks, and the real rendering at three widths beside it. */
export function PieceEditor({ piece }: { piece: PieceRow }) {
  const site = useSite();
  const pages = usePiecePages()(piece.slug);
  const linkTo = useLinkTo();
  const navigate = useNavigate();
  const refresh = useRefresh();
  const tell = useMessage();
  const tellError = useTellError();
  const saved = pieceTree(piece);
  const { draft, edit: keep, drop, settle } = useDraft<PieceTree>("piece", piece.slug, saved, samePiece);
  const [problem, setProblem] = useState<Problem | null>(null);
  const types = useQuery(itemTypesQuery).data ?? [];
  const tree = draft?.tree ?? saved;
  const version = draft?.version ?? piece.version;
  const changed = draft !== null;
  const picture = useQuery(pictureQuery(site.slug, useDebounced(tree, 120)));
  const edit = (next: PieceTree) => keep(next, version);
  const items = itemsOf(tree);
  const setItems = (next: Item[]) => edit(withContent(tree, { items: next }));
  const problemAt = (pointer: string) => problem?.at(pointer)?.message;
  const path = { site: site.slug, piece: piece.slug };

  const save = async (as = version) => {
    try {
      const made = await answer(
        api.PUT("/api/sites/{site}/pieces/{piece}", {
          params: { path, header: { "If-Match": `"${as}"` } },
          body: tree,
        }),
      );
      await refresh();
      settle(tree, made.version);
      setProblem(null);
      tell(`Saved ${tree.name}. It is in the draft, not live yet.`);
    } catch (error) {
      setProblem(error instanceof Problem ? error : new Problem(0, "", String(error), ""));
    }
  };
  const remove = async () => {
    try {
      const header = { "If-Match": `"${piece.version}"` };
      await api.DELETE("/api/sites/{site}/pieces/{piece}", { params: { path, header } });
      drop();
      await refresh();
      tell(`Removed ${piece.name}`);
      navigate(linkTo("pieces"));
    } catch (error) {
      tellError(error);
    }
  };
  const theirs = problem?.status === 412 ? problem : null;
  const takes = tree.kind !== "template" && tree.kind !== "sidebar";
  return (
    <>
      <div className="editor" style={{ flex: "0 0 430px", borderRight: "1px solid var(--line)" }}>
        <div className="row">
          <Link to={linkTo("pieces")}>All pieces</Link>
          <span className="mute">{tree.kind}</span>
          <span className="grow" />
          <CopyPiece piece={piece} />
          <RemovePiece piece={piece} onRemove={remove} />
        </div>
        <input
          className="name"
          style={{ marginTop: 8 }}
          aria-label="Name of the piece"
          value={tree.name}
          aria-invalid={Boolean(problemAt("/name"))}
          onChange={(event) => edit({ ...tree, name: event.target.value })}
        />
        {problemAt("/name") && (
          <p className="field-error" role="alert">
            {problemAt("/name")}
          </p>
        )}
        <textarea
          className="note"
          rows={1}
          aria-label="Note"
          placeholder="What is this piece for?"
          value={tree.note ?? ""}
          onChange={(event) => edit({ ...tree, note: event.target.value })}
        />
        <p className="mute" style={{ margin: "4px 0 12px" }}>
          {pages === undefined ? "" : `Shown on ${count(pages, "page")} through this lens, `}named by{" "}
          {count(piece.uses, "rule or sidebar", "rules and sidebars")}. An edit changes all of them.
        </p>
        {theirs && (
          <div className="note-box" role="alert">
            <b>{theirs.message}.</b> Nothing is lost.
            <div className="row">
              <Button variant="contained" onClick={() => save(theirs.body.version as number)}>
                Save mine over it
              </Button>
              <Button
                variant="outlined"
                onClick={() => {
                  drop();
                  setProblem(null);
                  refresh();
                }}
              >
                Take theirs
              </Button>
            </div>
          </div>
        )}
        {tree.kind !== "template" && <StyleFields tree={tree} problemAt={problemAt} onChange={edit} />}
        {tree.kind === "sidebar" && <Entries tree={tree} problemAt={problemAt} onChange={edit} />}
        {tree.kind === "template" && <GridFields tree={tree} problemAt={problemAt} onChange={edit} />}
        {items.map((item, place) => (
          <ItemEditor
            // biome-ignore lint/suspicious/noArrayIndexKey: an item is its place
            key={`${place} ${item.type}`}
            item={item}
            place={place}
            last={place === items.length - 1}
            parts={types.find((one) => one.type === item.type)?.parts ?? []}
            problemAt={problemAt}
            onChange={(next) => setItems(items.map((known, at) => (at === place ? next : known)))}
            onMove={(to) => setItems(moved(items, place, to))}
            onRemove={() => setItems(items.filter((_, at) => at !== place))}
          />
        ))}
        {takes && (
          <label className="row mute">
            Add
            <select
              className="input"
              style={{ width: "auto" }}
              aria-label="Add an item"
              value=""
              onChange={(event) => event.target.value && setItems([...items, { type: event.target.value }])}
            >
              <option value="">an item …</option>
              {types.map((one) => (
                <option key={one.type} value={one.type}>
                  {itemName(one.type)}
                </option>
              ))}
            </select>
          </label>
        )}
        {changed && (
          <div className="save-bar">
            <span
              className={problem && !theirs ? "field-error grow" : "mute grow"}
              role={problem && !theirs ? "alert" : undefined}
            >
              {problem && !theirs ? problem.message : "Edited, not saved yet"}
            </span>
            <Button
              variant="text"
              color="inherit"
              onClick={() => {
                drop();
                setProblem(null);
              }}
            >
              Back to saved
            </Button>
            <Button variant="contained" onClick={() => save()}>
              Save piece
            </Button>
          </div>
        )}
      </div>
      <div className="column">
        <h2>As it will look</h2>
        {picture.isError && <p className="note-box">Waits until this is mended: {picture.error.message}</p>}
        <Widths html={picture.data?.html ?? ""} name={tree.name} kind={tree.kind} />
      </div>
    </>
  );
}

function Widths({ html, name, kind }: { html: string; name: string; kind: string }) {
  const wide = ["header", "footer", "title", "template"].includes(kind);
  const height = DRAWN_HEIGHT[kind] ?? 700;
  if (!wide) {
    return (
      <figure style={{ margin: 0, maxWidth: 380 }}>
        <figcaption className="mute">In a sidebar</figcaption>
        <div className="picture" style={{ border: "1px solid var(--line)", borderRadius: 4 }}>
          <Frame html={html} title={`${name} in a sidebar`} width={352} height={height} />
        </div>
      </figure>
    );
  }
  return (
    <>
      {WIDTHS.map(([label, width]) => (
        <figure key={label} style={{ margin: "0 0 14px", maxWidth: width }}>
          <figcaption className="mute">
            {label}, {width} px
          </figcaption>
          <div style={{ border: "1px solid var(--line)", borderRadius: 4, overflow: "hidden" }}>
            <Frame
              html={html}
              title={`${name}, ${label}`}
              width={width}
              height={width === 390 ? height * 1.6 : height}
            />
          </div>
        </figure>
      ))}
    </>
  );
}

interface PartProps {
  tree: PieceTree;
  problemAt: (pointer: string) => string | undefined;
  onChange: (tree: PieceTree) => void;
}

function StyleFields({ tree, problemAt, onChange }: PartProps) {
  const style = styleOf(tree);
  const set = (key: string, value: string) => {
    const { [key]: _, ...rest } = style;
    onChange(withContent(tree, { style: value ? { ...rest, [key]: value } : rest }));
  };
  return (
    <div className="row" style={{ marginBottom: 10, flexWrap: "wrap" }}>
      {(["background", "ink"] as const).map((key) => (
        <label className="row mute" key={key}>
          {key}
          <input
            type="color"
            aria-label={key}
            value={style[key] ?? (key === "ink" ? "#22303a" : "#ffffff")}
            onChange={(event) => set(key, event.target.value)}
          />
          {style[key] && (
            <button
              type="button"
              className="plain mute"
              aria-label={`No own ${key}`}
              onClick={() => set(key, "")}
            >
              ×
            </button>
          )}
        </label>
      ))}
      <label className="row mute">
        arranged as
        <select
          className="input"
          style={{ width: "auto" }}
          aria-label="arranged as"
          value={style.arrange ?? "stack"}
          onChange={(event) => set("arrange", event.target.value === "stack" ? "" : event.target.value)}
        >
          {ARRANGEMENTS.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </select>
      </label>
      {problemAt("/content/style/background") && (
        <p className="field-error">{problemAt("/content/style/background")}</p>
      )}
    </div>
  );
}

/** A sidebar's widgets in order, each with where it shows. */
function Entries({ tree, problemAt, onChange }: PartProps) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const entries = tree.entries ?? [];
  const set = (next: typeof entries) => onChange({ ...tree, entries: next });
  return (
    <>
      {entries.map((entry, place) => {
        const setQuery = (key: "include" | "exclude", text: string) =>
          set(
            entries.map((known, at) =>
              at === place ? { ...known, condition: { ...known.condition, [key]: text } } : known,
            ),
          );
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: an entry is its place
          <section className="item-row" key={place} aria-label={`Entry ${place + 1}`}>
            <div className="row">
              <span className="grow">
                <PieceName slug={entry.piece} />
              </span>
              <Button
                variant="text"
                color="inherit"
                disabled={place === 0}
                aria-label={`Move entry ${place + 1} up`}
                onClick={() => set(moved(entries, place, place - 1))}
              >
                ↑
              </Button>
              <Button
                variant="text"
                color="inherit"
                disabled={place === entries.length - 1}
                aria-label={`Move entry ${place + 1} down`}
                onClick={() => set(moved(entries, place, place + 1))}
              >
                ↓
              </Button>
              <Button
                variant="text"
                color="inherit"
                aria-label={`Take away entry ${place + 1}`}
                onClick={() => set(entries.filter((_, at) => at !== place))}
              >
                ×
              </Button>
            </div>
            {(["include", "exclude"] as const).map((key) => {
              const wrong = problemAt(`/entries/${place}/condition/${key}`);
              return (
                <div
                  key={key}
                  style={{
                    display: "grid",
                    gridTemplateColumns: "84px minmax(0, 1fr)",
                    gap: 8,
                    alignItems: "center",
                  }}
                >
                  <span className="mute">{key === "include" ? "on pages" : "but not on"}</span>
                  <div>
                    <QueryField
                      label={`Entry ${place + 1}: ${key}`}
                      placeholder={key === "include" ? "every page" : "nothing left out"}
                      value={entry.condition?.[key] ?? ""}
                      onChange={(text) => setQuery(key, text)}
                    />
                    {wrong && <p className="field-error">{wrong}</p>}
                  </div>
                </div>
              );
            })}
          </section>
        );
      })}
      {entries.length === 0 && (
        <p className="note-box">No widgets yet, so it would show blank wherever it stands.</p>
      )}
      <button
        type="button"
        className="token add"
        aria-haspopup="dialog"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        + widget
      </button>
      <Popover open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        <div className="popover" role="dialog" aria-label="Add a widget">
          <ChoosePiece
            kinds={["widget"]}
            label="Add a widget"
            onChoose={(slug) => {
              setAnchor(null);
              set([...entries, { piece: slug }]);
            }}
          />
        </div>
      </Popover>
    </>
  );
}

/** The rows of areas that a text states. */
const rowsOf = (text: string) =>
  text
    .split("\n")
    .map((row) => row.trim().replace(/\s+/g, " "))
    .filter(Boolean);

/** A template's grid, in the notation of CSS Grid, and the slots that its pages have. */
function GridFields({ tree, problemAt, onChange }: PartProps) {
  const site = useSite();
  const areas = Array.isArray(tree.content?.areas) ? (tree.content.areas as string[]) : [];
  // A line that is just begun is blank: it is shown, but no area yet.
  const [typed, setTyped] = useState(areas.join("\n"));
  const shown = rowsOf(typed).join("\n") === areas.join("\n") ? typed : areas.join("\n");
  const slots = tree.slots ?? [];
  const toggle = (slot: string) =>
    onChange({
      ...tree,
      slots: slots.includes(slot)
        ? slots.filter((one) => one !== slot)
        : site.slots.filter((one) => one === slot || slots.includes(one)),
    });
  return (
    <>
      <label className="mute">
        Areas, a row a line (CSS Grid template areas)
        <textarea
          className="input mono"
          rows={Math.max(4, areas.length + 1)}
          aria-label="Areas"
          value={shown}
          onChange={(event) => {
            setTyped(event.target.value);
            onChange(withContent(tree, { areas: rowsOf(event.target.value) }));
          }}
        />
      </label>
      {problemAt("/content/areas") && <p className="field-error">{problemAt("/content/areas")}</p>}
      <label className="mute">
        Columns
        <input
          className="input mono"
          aria-label="Columns"
          value={String(tree.content?.columns ?? "")}
          onChange={(event) => onChange(withContent(tree, { columns: event.target.value || undefined }))}
        />
      </label>
      {problemAt("/content/columns") && <p className="field-error">{problemAt("/content/columns")}</p>}
      <fieldset
        style={{ border: 0, padding: 0, margin: "10px 0", display: "grid", gridTemplateColumns: "1fr 1fr" }}
      >
        <legend className="mute">Slots that its pages have</legend>
        {site.slots.map((slot) => (
          <label className="row" key={slot}>
            <input type="checkbox" checked={slots.includes(slot)} onChange={() => toggle(slot)} />
            {slot}
          </label>
        ))}
      </fieldset>
    </>
  );
}

function CopyPiece({ piece }: { piece: PieceRow }) {
  const site = useSite();
  const make = (form: FormData) => {
    const params = { path: { site: site.slug, piece: piece.slug } };
    const body = { name: String(form.get("name")) };
    return answer(api.POST("/api/sites/{site}/pieces/{piece}/copy", { params, body }));
  };
  return (
    <NamedForm
      label="Copy"
      title={`Copy ${piece.name}`}
      nameLabel="Name of the copy"
      submit="Make the copy"
      make={make}
      said={(made) => `Made ${made.name}, a copy of ${piece.name}`}
    />
  );
}

/** Removing says first what names the piece, and waits until nothing does. */
function RemovePiece({ piece, onRemove }: { piece: PieceRow; onRemove: () => void }) {
  const site = useSite();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const uses = useQuery({
    queryKey: ["uses", site.slug, piece.slug, site.version],
    enabled: anchor !== null,
    queryFn: () =>
      answer(
        api.GET("/api/sites/{site}/pieces/{piece}/uses", {
          params: { path: { site: site.slug, piece: piece.slug } },
        }),
      ),
  });
  return (
    <>
      <Button
        variant="text"
        color="inherit"
        aria-haspopup="dialog"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        Remove …
      </Button>
      <Popover open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        <div className="popover" role="dialog" aria-label={`Remove ${piece.name}`}>
          {uses.data?.uses.length ? (
            <>
              <p>{piece.name} is named by these. Take it out of them first.</p>
              <ul>
                {uses.data.uses.map((use) => (
                  <li key={use}>{use}</li>
                ))}
              </ul>
            </>
          ) : (
            uses.data && (
              <>
                <p>Nothing names {piece.name}. Removing it changes no page.</p>
                <Button variant="contained" color="error" onClick={onRemove} style={{ marginTop: 8 }}>
                  Remove it
                </Button>
              </>
            )
          )}
        </div>
      </Popover>
    </>
  );
}
