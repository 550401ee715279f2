import Button from "@mui/material/Button";
import type { ReactNode } from "react";
import { useCommand } from "./commands";
import { useLacking } from "./rights";
import type { Editing } from "./useDraft";

interface Props<T extends { name: string }> {
  editing: Editing<T>;
  /** What is saved: `rule`, `piece`. */
  what: string;
  isNew?: boolean;
  /** What saving waits for; empty where nothing stands in its way. */
  waits?: string;
  onSave: () => void;
  onDrop: () => void;
  /** What saving would come to. */
  children?: ReactNode;
}

/** Saving what is edited, or going back; says what is wrong, and what saving waits for. */
export function SaveBar<T extends { name: string }>({
  editing,
  what,
  isNew = false,
  waits: asked = "",
  onSave,
  onDrop,
  children,
}: Props<T>) {
  const { changed, busy, error } = editing;
  const lacking = useLacking("editor");
  const waits = lacking || asked;
  useCommand(`Save the ${what}`, "Ctrl S", onSave, {
    hotkey: "mod+s",
    whileTyping: true,
    enabled: (changed || isNew) && !busy && waits === "",
  });
  if (!changed && !isNew) return null;
  const state = isNew ? `New ${what}, not saved yet` : "Edited, not saved yet";
  const wrong = error ? [error.message, error.detail].filter(Boolean).join(". ") : "";
  return (
    <div className="save-bar">
      {children}
      <span className={wrong ? "field-error grow" : "mute grow"} role={wrong ? "alert" : undefined}>
        {wrong || waits || state}
      </span>
      <Button variant="text" color="inherit" onClick={onDrop}>
        {isNew ? "Drop it" : "Back to saved"}
      </Button>
      <Button variant="contained" disabled={busy || waits !== ""} title={waits || "Ctrl S"} onClick={onSave}>
        Save {what}
      </Button>
    </div>
  );
}
