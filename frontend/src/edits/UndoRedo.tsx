import IconButton from "@mui/material/IconButton";
import Tooltip from "@mui/material/Tooltip";
import { useCallback, useEffect, useRef, useState } from "react";
import { answer, api, type Shapes } from "../api/client";
import { useCommand } from "../parts/commands";
import { RedoSign, UndoSign } from "../parts/icons";
import { useMessage, useTellError } from "../parts/messages";
import { useRefresh, useSite } from "../parts/site";
import { useUnsavedSteps } from "../parts/steps";

type Turn = "undo" | "redo";

/** Take an edit back, or do it again; tells what was done, or what stands in the way. */
export function useTurn() {
  const site = useSite();
  const refresh = useRefresh();
  const tell = useMessage();
  const tellError = useTellError();
  return useCallback(
    async (turn: Turn, number: number) => {
      const params = { path: { site: site.slug, number } };
      let said = "";
      try {
        const turned = await answer(
          turn === "undo"
            ? api.POST("/api/sites/{site}/edits/{number}/undo", { params })
            : api.POST("/api/sites/{site}/edits/{number}/redo", { params }),
        );
        said = `${turn === "undo" ? "Undone" : "Done again"}: ${turned.words}`;
      } catch (error) {
        tellError(error);
      }
      await refresh();
      // Told once what is on screen is as it says.
      if (said) tell(said);
    },
    [site.slug, refresh, tell, tellError],
  );
}

/** Undo and redo: first through what is typed and not saved, then through what was saved, here or elsewhere. */
export function UndoRedo() {
  const site = useSite();
  const unsaved = useUnsavedSteps();
  const turn = useTurn();
  const [busy, setBusy] = useState(false);
  const step = (which: Turn, saved: Shapes["StepInfo"] | null) => {
    const own = unsaved?.[which];
    if (own) return { words: `unsaved edit of ${unsaved.name || "what has no name yet"}`, go: own };
    // While something typed can be undone, redoing what was saved would jump over it.
    if (!saved || busy) return null;
    const go = () => {
      setBusy(true);
      turn(which, saved.number).finally(() => setBusy(false));
    };
    return { words: saved.words, go };
  };
  const undo = step("undo", site.undo);
  const redo = step("redo", unsaved?.undo ? null : site.redo);
  // Keys that come while a step is on its way wait for it: what they undo is known only then.
  const waiting = useRef<Turn[]>([]);
  const press = (which: Turn) => {
    if (busy) waiting.current.push(which);
    else (which === "undo" ? undo : redo)?.go();
  };
  useEffect(() => {
    if (busy) return;
    const next = waiting.current.shift();
    if (next) (next === "undo" ? undo : redo)?.go();
  }, [busy, undo, redo]);
  useCommand("Undo", "Ctrl Z", () => press("undo"), { hotkey: "mod+z" });
  useCommand("Redo", "Ctrl Shift Z", () => press("redo"), { hotkey: "mod+shift+z, mod+y" });
  return (
    <span className="row" style={{ gap: 0 }}>
      <StepButton name="Undo" keys="Ctrl-Z" step={undo} sign={<UndoSign />} />
      <StepButton name="Redo" keys="Ctrl-Shift-Z" step={redo} sign={<RedoSign />} />
    </span>
  );
}

interface StepButtonProps {
  name: string;
  keys: string;
  step: { words: string; go: () => void } | null;
  sign: React.ReactNode;
}

function StepButton({ name, keys, step, sign }: StepButtonProps) {
  const label = step ? `${name}: ${step.words}` : `Nothing to ${name.toLowerCase()}`;
  return (
    <Tooltip title={step ? `${label} (${keys})` : label}>
      {/* A button that is off shows no tooltip of its own. */}
      <span>
        <IconButton size="small" aria-label={label} disabled={!step} onClick={step?.go}>
          {sign}
        </IconButton>
      </span>
    </Tooltip>
  );
}
