import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { ApiError, answer, api } from "../api/client";
import { pictureQuery } from "../api/pieceQueries";
import { findingsQuery, itemTypesQuery } from "../api/queries";
import { FindingsAbout } from "../checks/FindingsAbout";
import { VaryHere } from "../pages/VaryHere";
import { AlsoHere } from "../parts/AlsoHere";
import { ConflictBox } from "../parts/ConflictBox";
import { PlainField } from "../parts/controls";
import { LostList } from "../parts/LostList";
import { useKept } from "../parts/memory";
import { useMessage, useTellError } from "../parts/messages";
import { PageFinder } from "../parts/PageFinder";
import { SaveBar } from "../parts/SaveBar";
import { type PieceRow, useLinkTo, usePiecesShown, useRefresh, useSite } from "../parts/site";
import { useDebounced } from "../parts/useDebounced";
import { useDraft } from "../parts/useDraft";
import { count } from "../parts/words";
import { Weighed } from "../publish/Weighed";
import { CopyPiece } from "./CopyPiece";
import { changed, itemAt, pointerOf, removed, rowsOf, type Spot, spotsOf, withRows } from "./content";
import { Entries } from "./Entries";
import { GridFields } from "./GridFields";
import { IntoMarkup } from "./IntoMarkup";
import { ItemSettings } from "./ItemSettings";
import { PutOnPages } from "./PutOnPages";
import { RemovePiece } from "./RemovePiece";
import { ReplacePiece } from "./ReplacePiece";
import { Structure } from "./Structure";
import { type PieceTree, pieceTree } from "./tree";
import { CopiedFrom, Versions } from "./Versions";
import { WholePiece } from "./WholePiece";
import { Widths } from "./Widths";

/** Whether two forms of a piece say the same. */
const samePiece = (a: PieceTree, b: PieceTree) =>
  JSON.stringify(pieceTree(a)) === JSON.stringify(pieceTree(b));

async function sendPiece(site: string, piece: string, tree: PieceTree, version: number) {
  const params = { path: { site, piece }, header: { "If-Match": `"${version}"` } };
  const made = await answer(api.PUT("/api/sites/{site}/pieces/{piece}", { params, body: tree }));
  return { id: made.slug, version: made.version };
}

/** The editor of a piece: what it is made of, the real rendering at three widths, the settings of the chosen item. */
export function PieceEditor({ piece }: { piece: PieceRow }) {
  const site = useSite();
  const shown = usePiecesShown()(piece.slug);
  const pages = shown?.pages;
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
  const known = useQuery(itemTypesQuery).data;
  const types = known?.items ?? [];
  const palette = known?.palette ?? [];
  const [wanted, setPath] = useKept(`piece-page/${piece.slug}`, "");
  const [at, setAt] = useState(0);
  const path = wanted || shown?.some[at] || "/";
  const [alone, setAlone] = useKept("piece-alone", false);
  const [chosen, setChosen] = useState<Spot | null>(null);
  const asked = pictureQuery(site.slug, piece.slug, useDebounced(tree, 120), path, {
    marked: true,
    alone,
  });
  const picture = useQuery({ ...asked, enabled: shown !== undefined });
  // While something is wrong, the last picture that could be drawn stays in sight.
  const [drawn, setDrawn] = useState(NOT_DRAWN);
  if (picture.data && !picture.isPlaceholderData && picture.data.html !== drawn.html)
    setDrawn({ ...picture.data, path });
  const rows = rowsOf(tree);
  const item = itemAt(rows, chosen);
  const problemAt = (pointer: string) => editing.problemAt(pointer)?.message;
  /** What is wrong below a pointer: as saving told it, else as drawing it just told. */
  const problemUnder = (pointer: string) => {
    const told = picture.error instanceof ApiError ? picture.error.problems : [];
    return (editing.problemUnder(pointer) ?? told.find((one) => `${one.pointer}/`.startsWith(`${pointer}/`)))
      ?.message;
  };
  const findings = useQuery(findingsQuery(site.slug)).data ?? [];
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
  const isMadeOfItems = tree.kind !== "template" && tree.kind !== "sidebar";
  const onItem = (pointer: string) => {
    const found = spotsOf(rows).find(({ spot }) => pointerOf(tree, spot) === pointer);
    if (found) setChosen(found.spot);
  };
  const reach =
    pages === undefined
      ? ""
      : `Shown on ${count(pages, "page")} through this lens, named by ${named(piece)}.`;
  return (
    <>
      <div className="editor piece-editor">
        <div className="row">
          <Link to={linkTo("pieces")}>All pieces</Link>
          <span className="mute">{tree.kind}</span>
        </div>
        <AlsoHere thing={`piece/${piece.slug}`} />
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
        <FindingsAbout findings={findings.filter((one) => one.piece === piece.slug)} />
        <p className="mute" style={{ margin: "4px 0 12px" }}>
          {reach} An edit changes all of them.
        </p>
        <div className="row piece-ways">
          <PutOnPages piece={piece} />
          <a href={`/api/sites/${site.slug}/layout-file?pieces=${piece.slug}`} download>
            Export
          </a>
          <a href={`/api/sites/${site.slug}/layout-file?pieces=${piece.slug}&rules=true`} download>
            with its rules
          </a>
        </div>
        <div className="row piece-ways">
          <CopyPiece piece={piece} />
          <ReplacePiece piece={piece} />
          {isMadeOfItems && <IntoMarkup tree={tree} onTurned={(content) => edit({ ...tree, content })} />}
          <Versions piece={piece} onChoose={(version) => edit(pieceTree({ ...tree, ...version }))} />
          <RemovePiece piece={piece} onRemove={remove} />
        </div>
        <CopiedFrom piece={piece} />
        <ConflictBox editing={editing} what="piece" onSaved={saved} />
        {tree.kind === "sidebar" && (
          <Entries slug={piece.slug} tree={tree} problemAt={editing.problemAt} onChange={edit} />
        )}
        {tree.kind === "template" && <GridFields tree={tree} problemAt={problemAt} onChange={edit} />}
        {isMadeOfItems && (
          <Structure
            tree={tree}
            types={types}
            chosen={chosen}
            problemUnder={editing.problemUnder}
            onChoose={setChosen}
            onRows={(next) => edit((newest) => withRows(newest, next))}
          />
        )}
        {problemAt("/content") && <p className="field-error">{problemAt("/content")}</p>}
        {tree.kind !== "template" && (
          <WholePiece tree={tree} palette={palette} problemAt={problemAt} onChange={edit} />
        )}
        <SaveBar
          editing={editing}
          what="piece"
          onSave={async () => (await editing.save()) && saved()}
          onDrop={editing.drop}
        >
          <Weighed editing={editing} to={`pieces/${piece.slug}`} body={tree} />
        </SaveBar>
      </div>
      <div className="column grow">
        <div className="row as-it-looks">
          <h2>As it will look</h2>
          <span className="grow" />
          {(drawn.in_place || alone) && (
            <Button variant="text" onClick={() => setAlone(!alone)}>
              {alone ? "As it stands there" : "By itself"}
            </Button>
          )}
          {tree.kind !== "template" && (
            <>
              <span className="mute">on</span>
              <PageFinder path={path} onChoose={setPath} />
            </>
          )}
        </div>
        {picture.isError && <p className="note-box">Waits until this is mended: {picture.error.message}</p>}
        {picture.data?.lost.map(({ pointer, lost }) => (
          <p key={pointer} className="note-box">
            Left out of this markup: <LostList lost={lost} />. A piece holds nothing that runs, is fetched
            from elsewhere, or leaves its box.
          </p>
        ))}
        <Widths
          key={drawn.path}
          html={drawn.html}
          inPlace={drawn.in_place}
          // Where the styles of one page hide it, it is shown on another, unless somebody says on which.
          onUnseen={wanted || at + 1 >= (shown?.some.length ?? 0) ? undefined : () => setAt(at + 1)}
          name={tree.name}
          kind={tree.kind}
          chosen={chosen && item ? pointerOf(tree, chosen) : undefined}
          onItem={isMadeOfItems ? onItem : undefined}
        />
      </div>
      {isMadeOfItems && (
        <div className="item-panel">
          {item && chosen ? (
            <ItemSettings
              key={`${chosen.row}.${chosen.cell}.${chosen.item}`}
              item={item}
              type={types.find((one) => one.type === item.type)}
              palette={palette}
              placeholders={known?.placeholders ?? []}
              problemAt={(name) => problemUnder(`/content${pointerOf(tree, chosen)}/${name}`)}
              onChange={(next) => edit((newest) => withRows(newest, changed(rowsOf(newest), chosen, next)))}
              onRemove={() => {
                edit((newest) => withRows(newest, removed(rowsOf(newest), chosen)));
                setChosen(null);
              }}
            >
              <p className="mute">
                {pages === undefined
                  ? ""
                  : `From ${tree.name}: changes ${count(pages, "page")}, through this lens.`}
              </p>
              {OWN_SLOT.includes(tree.kind) && (
                <VaryHere
                  slug={piece.slug}
                  path={path}
                  target={tree.kind}
                  label={`Or a ${tree.kind} of its own for ${path}`}
                />
              )}
            </ItemSettings>
          ) : (
            <p className="mute">Choose an item, in the list or in the picture, to set it.</p>
          )}
        </div>
      )}
    </>
  );
}

const NOT_DRAWN = { html: "", in_place: false, path: "" };

/** The kinds that fill a slot of their own name. */
const OWN_SLOT = ["header", "footer", "title"];

const named = (piece: PieceRow) => count(piece.uses, "other thing");
