import Button from "@mui/material/Button";
import type { Editing } from "./useDraft";

interface Props<T extends { name: string }> {
  editing: Editing<T>;
  /** What two people edited: `rule`, `piece`. */
  what: string;
  onSaved: () => void;
}

/** Both versions of what two people edited at once, and the choice between them. */
export function ConflictBox<T extends { name: string }>({ editing, what, onSaved }: Props<T>) {
  const { conflict, tree } = editing;
  if (!conflict) return null;
  return (
    <section className="note-box" role="alert" aria-label="Changed meanwhile">
      <b>Somebody saved this {what} while you edited it.</b> Nothing is lost: both versions stand here.
      <div className="versions">
        <div>
          Yours
          <pre>{JSON.stringify(tree, null, 2)}</pre>
          <Button
            variant="contained"
            onClick={async () => (await editing.save(conflict.version)) && onSaved()}
          >
            Save mine over it
          </Button>
        </div>
        <div>
          Theirs, saved
          <pre>{JSON.stringify(conflict.theirs, null, 2)}</pre>
          <Button variant="outlined" onClick={editing.takeTheirs}>
            Take theirs
          </Button>
        </div>
      </div>
    </section>
  );
}
