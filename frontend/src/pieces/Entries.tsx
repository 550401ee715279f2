import Button from "@mui/material/Button";
import Popover from "@mui/material/Popover";
import { useState } from "react";
import { ChoosePiece } from "../parts/ChoosePiece";
import { PieceName } from "../parts/PieceName";
import { QueryField } from "../parts/QueryField";
import type { PartProps } from "./PartProps";
import { moved } from "./tree";

/** A sidebar's widgets in order, each with where it shows. */
export function Entries({ tree, problemAt, onChange }: PartProps) {
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
