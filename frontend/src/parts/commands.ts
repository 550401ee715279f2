import { useEffect } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { useSteadyCall } from "./useSteady";

/** Something that can be done now, with the key that does it. */
export interface Command {
  name: string;
  /** The key as people read it: "Ctrl S". */
  keys: string;
  run: () => void;
}

const TAKING_KEYS = ["combobox", "listbox", "menu", "dialog"].map((role) => `[role=${role}]`).join();

/** What can be done in the views that stand now. */
const standing = new Map<string, Command>();

/** The commands of the views that stand now, in the order in which they came. */
export const commandsNow = (): Command[] => [...standing.values()];

interface Options {
  /** The same key as the browser tells it, where that is not what people read. */
  hotkey?: string;
  /** Whether it counts while a text is being typed. */
  whileTyping?: boolean;
  /** Whether it can be done now. */
  enabled?: boolean;
}

/** Offer a command by its key, and in the palette, as long as the caller stands. */
export function useCommand(
  name: string,
  keys: string,
  run: () => void,
  { hotkey, whileTyping = false, enabled = true }: Options = {},
) {
  const steady = useSteadyCall(run);
  useHotkeys(hotkey ?? keys.toLowerCase(), steady, {
    preventDefault: true,
    enabled,
    enableOnFormTags: whileTyping,
    enableOnContentEditable: whileTyping,
    useKey: hotkey === undefined,
    // A single letter in an open list looks for what begins with it; under an open box nothing is meant.
    ignoreEventWhen: (event) =>
      hotkey === undefined && (event.target as Element).closest(TAKING_KEYS) !== null,
  });
  useEffect(() => {
    if (!enabled) return;
    standing.set(name, { name, keys, run: steady });
    return () => {
      standing.delete(name);
    };
  }, [name, keys, enabled, steady]);
}
