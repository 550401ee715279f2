import Popover from "@mui/material/Popover";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Problem } from "../api/client";
import { sidebarReachQuery } from "../api/queries";
import { ChoosePiece } from "../parts/ChoosePiece";
import { useLens, useSite } from "../parts/site";
import { useDebounced } from "../parts/useDebounced";
import { count } from "../parts/words";
import { EntryEditor, type EntryTree } from "./EntryEditor";
import { moved, type PieceTree } from "./tree";

interface Props {
  slug: string;
  tree: PieceTree;
  problemAt: (pointer: string) => Problem | undefined;
  onChange: (change: (newest: PieceTree) => PieceTree) => void;
}

/** A sidebar's widgets in order, each with where, for whom and when it shows, and on how many pages that is. */
export function Entries({ slug, tree, problemAt, onChange }: Props) {
  const site = useSite();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const asked = useDebounced(tree, 120);
  const reach = useQuery(sidebarReachQuery(site.slug, { slug, piece: asked, ...useLens() }));
  const known = reach.isError || reach.isPlaceholderData ? undefined : reach.data;
  const entries = tree.entries ?? [];
  const set = (next: (entries: EntryTree[]) => EntryTree[]) =>
    onChange((newest) => ({ ...newest, entries: next(newest.entries ?? []) }));
  return (
    <>
      <p className="mute" role="status" aria-label="Where the sidebar stands">
        {known && `Stands on ${count(known.pages, "page")} through this lens.`}
      </p>
      {entries.map((entry, place) => (
        <EntryEditor
          // biome-ignore lint/suspicious/noArrayIndexKey: an entry is its place
          key={place}
          entry={entry}
          place={place}
          last={place === entries.length - 1}
          reach={known?.entries[place]}
          problemAt={(pointer) => problemAt(`/entries/${place}${pointer}`)}
          onChange={(change) => set((all) => all.map((one, at) => (at === place ? change(one) : one)))}
          onMove={(to) => set((all) => moved(all, place, to))}
          onRemove={() => set((all) => all.filter((_, at) => at !== place))}
        />
      ))}
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
            onChoose={(piece) => {
              setAnchor(null);
              set((all) => [...all, { piece }]);
            }}
          />
        </div>
      </Popover>
    </>
  );
}
