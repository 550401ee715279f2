import { useState } from "react";
import { answer, api } from "../api/client";
import { ChoosePiece } from "../parts/ChoosePiece";
import { Chooser, Segments } from "../parts/controls";
import { Opening } from "../parts/Opening";
import { type PieceRow, usePieces, useSite } from "../parts/site";
import { useAct } from "../parts/useAct";
import { kindFor, targetName } from "../parts/words";
import { pieceTree } from "../pieces/tree";
import type { Pins } from "./usePins";

interface Props {
  path: string;
  target: string;
  /** The pieces that stand there now. */
  standing: string[];
  pins: Pins;
}

type Edge = "prepend" | "append";

/** Between two widgets of a sidebar that stands there: right above one of its entries. */
interface Between {
  sidebar: PieceRow;
  entry: number;
}

/** One widget added to a slot of this page alone, at the top, the bottom, or above one that stands there. */
export function AddHere({ path, target, standing, pins }: Props) {
  const { bySlug } = usePieces();
  const insert = useInsert();
  const [edge, setEdge] = useState<Edge>("append");
  const [above, setAbove] = useState("");
  const usual = kindFor(target);
  // Beside widgets an aside takes sidebars too; between those of a sidebar stand widgets alone.
  const kinds = usual === "sidebar" && above === "" ? ["widget", usual] : ["widget"];
  const places = new Map(
    standing.flatMap((slug) => {
      const sidebar = bySlug.get(slug);
      return (sidebar?.entries ?? []).map((_, entry) => [`${slug} ${entry}`, { sidebar, entry } as Between]);
    }),
  );
  const nameOf = ({ sidebar, entry }: Between) => {
    const slug = sidebar.entries?.[entry]?.piece ?? "";
    return `above ${bySlug.get(slug)?.name ?? slug} in ${sidebar.name}`;
  };
  const choose = (piece: string) => {
    const between = places.get(above);
    if (between) insert(between, path, piece);
    else pins.pin(path, { do: edge, slot: target, piece }, null);
  };
  return (
    <Opening text="Add a widget here" variant="outlined" about={`Add to ${targetName(target)} on ${path}`}>
      {(close) => (
        <>
          <p className="mute">For this page alone; what stands there stays.</p>
          <div className="row">
            <Segments
              label="Where it stands"
              value={above ? "" : edge}
              options={[["prepend", "at the top"] as const, ["append", "at the bottom"] as const]}
              onChange={(wanted) => {
                setAbove("");
                if (wanted) setEdge(wanted);
              }}
            />
            {places.size > 0 && (
              <Chooser
                label="Above which widget"
                nothing="or above …"
                value={above}
                options={[...places].map(([key, between]) => [key, nameOf(between)] as const)}
                onChange={setAbove}
              />
            )}
          </div>
          <ChoosePiece
            kinds={kinds}
            label="Widget to add"
            onChoose={(piece) => {
              close();
              choose(piece);
            }}
          />
        </>
      )}
    </Opening>
  );
}

/** Put a widget into a sidebar above one of its entries, on a single page. */
function useInsert() {
  const site = useSite();
  const { bySlug } = usePieces();
  const act = useAct();
  return ({ sidebar, entry }: Between, path: string, piece: string) =>
    act(async () => {
      const tree = pieceTree(sidebar);
      const added = { piece, condition: { include: `page:${path}` } };
      const entries = (tree.entries ?? []).toSpliced(entry, 0, added);
      const params = {
        path: { site: site.slug, piece: sidebar.slug },
        header: { "If-Match": `"${sidebar.version}"` },
      };
      await answer(api.PUT("/api/sites/{site}/pieces/{piece}", { params, body: { ...tree, entries } }));
      return `Put ${bySlug.get(piece)?.name ?? piece} into ${sidebar.name}, on ${path} alone. In the draft, not live yet.`;
    });
}
