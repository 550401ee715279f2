import Button from "@mui/material/Button";
import Tooltip from "@mui/material/Tooltip";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Shapes } from "../api/client";
import { editsQuery } from "../api/queries";
import { useSite } from "../parts/site";
import { count, when } from "../parts/words";
import { useTurn } from "./UndoRedo";

/** Every edit since live, newest first; each can be undone where nothing later touches the same. */
export function EditLog() {
  const site = useSite();
  const edits = useQuery(editsQuery(site.slug));
  if (!edits.data) return null;
  const { items, total } = edits.data;
  return (
    <section aria-label="Edits since live" style={{ marginBottom: 18 }}>
      <h2>Edits since live</h2>
      {total === 0 && <p className="mute">None.</p>}
      <ol className="list">
        {items.map((edit) => (
          <LoggedEdit key={edit.number} edit={edit} />
        ))}
      </ol>
      {total > items.length && <p className="mute">and {count(total - items.length, "earlier edit")}</p>}
    </section>
  );
}

function LoggedEdit({ edit }: { edit: Shapes["EditRow"] }) {
  const turn = useTurn();
  const [busy, setBusy] = useState(false);
  const go = (which: "undo" | "redo") => {
    setBusy(true);
    turn(which, edit.number).finally(() => setBusy(false));
  };
  const blocked = edit.in_the_way ? `Undo this first: ${edit.in_the_way}` : "";
  return (
    <li className={edit.undone ? "undone" : ""}>
      <div className="row mute">
        <span>{edit.number}</span>
        <span>{when(edit.made)}</span>
        <span>{edit.by ?? "set-up"}</span>
        {edit.undone && <span className="tag lose">undone</span>}
      </div>
      <div className="row">
        <span className="grow edit-words">{edit.words}</span>
        {edit.undone && (
          <Button
            variant="text"
            disabled={busy}
            aria-label={`Redo: ${edit.words}`}
            onClick={() => go("redo")}
          >
            Redo
          </Button>
        )}
        {!edit.undone && edit.undoable && (
          <Tooltip title={blocked}>
            <span>
              <Button
                variant="text"
                disabled={busy || blocked !== ""}
                aria-label={`Undo: ${edit.words}`}
                onClick={() => go("undo")}
              >
                Undo
              </Button>
            </span>
          </Tooltip>
        )}
        {!edit.undone && !edit.undoable && (
          <Tooltip title="Pages come from their files: take the earlier ones in again to go back">
            <span className="mute">stays</span>
          </Tooltip>
        )}
      </div>
      {blocked && <div className="mute">{blocked}</div>}
    </li>
  );
}
