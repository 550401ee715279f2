import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";
import { answer, api } from "../api/client";
import { itemTypesQuery, pictureQuery } from "../api/queries";
import { ConflictBox } from "../parts/ConflictBox";
import { PlainField } from "../parts/controls";
import { useMessage, useTellError } from "../parts/messages";
import { SaveBar } from "../parts/SaveBar";
import { type PieceRow, useLinkTo, usePiecePages, useRefresh, useSite } from "../parts/site";
import { useDebounced } from "../parts/useDebounced";
import { useDraft } from "../parts/useDraft";
import { count } from "../parts/words";
import { CopyPiece } from "./CopyPiece";
import { Entries } from "./Entries";
import { GridFields } from "./GridFields";
import { ItemEditor, itemName } from "./ItemEditor";
import { RemovePiece } from "./RemovePiece";
import { StyleFields } from "./StyleFields";
import { type Item, itemsOf, moved, type PieceTree, pieceTree, withContent } from "./tree";
import { Widths } from "./Widths";

/** Whether two forms of a piece say the same. */
const samePiece = (a: PieceTree, b: PieceTree) =>
  JSON.stringify(pieceTree(a)) === JSON.stringify(pieceTree(b));

async function sendPiece(site: string, piece: string, tree: PieceTree, version: number) {
  const params = { path: { site, piece }, header: { "If-Match": `"${version}"` } };
  const made = await answer(api.PUT("/api/sites/{site}/pieces/{piece}", { params, body: tree }));
  return { id: made.slug, version: made.version };
}

/** The editor of a piece: its items, its looks, and the real rendering at three widths beside it. */
export function PieceEditor({ piece }: { piece: PieceRow }) {
  const site = useSite();
  const pages = usePiecePages()(piece.slug);
  const linkTo = useLinkTo();
  const navigate = useNavigate();
  const refresh = useRefresh();
  const tell = useMessage();
  const tellError = useTellError();
  const editing = useDraft<PieceTree>({
    kind: "piece",
    id: piece.slug,
    saved: { tree: pieceTree(piece), version: piece.version },
    blank: pieceTree(piece),
    same: samePiece,
    send: (tree, version) => sendPiece(site.slug, piece.slug, tree, version),
  });
  const { tree, edit } = editing;
  const types = useQuery(itemTypesQuery).data ?? [];
  const picture = useQuery(pictureQuery(site.slug, useDebounced(tree, 120)));
  const items = itemsOf(tree);
  const setItems = (next: Item[]) => edit(withContent(tree, { items: next }));
  const problemAt = (pointer: string) => editing.problemAt(pointer)?.message;
  const saved = () => tell(`Saved ${tree.name}. It is in the draft, not live yet.`);
  const remove = async (takeOut: boolean) => {
    try {
      const path = { site: site.slug, piece: piece.slug };
      const header = { "If-Match": `"${piece.version}"` };
      const query = { take_out: takeOut };
      await api.DELETE("/api/sites/{site}/pieces/{piece}", { params: { path, header, query } });
      editing.drop();
      await refresh();
      tell(`Removed ${piece.name}`);
      navigate(linkTo("pieces"));
    } catch (error) {
      tellError(error);
    }
  };
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
        <PlainField
          className="name"
          label="Name of the piece"
          value={tree.name}
          error={Boolean(problemAt("/name"))}
          onChange={(name) => edit({ ...tree, name })}
        />
        {problemAt("/name") && (
          <p className="field-error" role="alert">
            {problemAt("/name")}
          </p>
        )}
        <PlainField
          multiline
          className="note"
          label="Note"
          placeholder="What is this piece for?"
          value={tree.note ?? ""}
          onChange={(note) => edit({ ...tree, note })}
        />
        <p className="mute" style={{ margin: "4px 0 12px" }}>
          {pages === undefined ? "" : `Shown on ${count(pages, "page")} through this lens, `}named by{" "}
          {count(piece.uses, "rule or sidebar", "rules and sidebars")}. An edit changes all of them.
        </p>
        <ConflictBox editing={editing} what="piece" onSaved={saved} />
        {tree.kind !== "template" && <StyleFields tree={tree} problemAt={problemAt} onChange={edit} />}
        {tree.kind === "sidebar" && (
          <Entries slug={piece.slug} tree={tree} problemAt={editing.problemAt} onChange={edit} />
        )}
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
          <TextField
            select
            label="Add an item"
            value=""
            sx={{ width: 180 }}
            onChange={(event) => setItems([...items, { type: event.target.value }])}
          >
            {types.map((one) => (
              <MenuItem key={one.type} value={one.type}>
                {itemName(one.type)}
              </MenuItem>
            ))}
          </TextField>
        )}
        <SaveBar
          editing={editing}
          what="piece"
          onSave={async () => (await editing.save()) && saved()}
          onDrop={editing.drop}
        />
      </div>
      <div className="column">
        <h2>As it will look</h2>
        {picture.isError && <p className="note-box">Waits until this is mended: {picture.error.message}</p>}
        <Widths html={picture.data?.html ?? ""} name={tree.name} kind={tree.kind} />
      </div>
    </>
  );
}
