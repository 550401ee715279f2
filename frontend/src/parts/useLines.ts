import { type FocusEvent, type KeyboardEvent, useState } from "react";

const CONTROLS = "a[href], button:enabled, input:enabled";

/**
 * The lines of a list by keyboard: Tab stops at the controls of one line, and the arrows, Home and End lead to the others
 * (ARIA Authoring Practices: roving tabindex). The list takes what is returned as `list`; each line has its key as
 * `data-line`, and its controls the `tabIndex` of that.
 *
 * `usual`: the line that Tab stops at until one was walked to.
 */
export function useLines(keys: string[], usual: string | undefined) {
  const [walked, setWalked] = useState<string>();
  const at = [walked, usual].find((key) => key !== undefined && keys.includes(key)) ?? keys[0];
  const onFocus = ({ target }: FocusEvent) =>
    setWalked(target.closest<HTMLElement>("[data-line]")?.dataset.line ?? walked);
  const onKeyDown = (event: KeyboardEvent<HTMLElement>) => {
    const control = event.target as HTMLElement;
    const line = control.closest<HTMLElement>("[data-line]");
    // With what is lifted the arrows lead elsewhere.
    if (!line || control.getAttribute("aria-pressed") === "true") return;
    const lines = [...event.currentTarget.querySelectorAll<HTMLElement>("[data-line]")];
    const next = lines[nextOf(event.key, lines.indexOf(line), lines.length)];
    if (!next) return;
    event.preventDefault();
    const there = controlsOf(next);
    // The same control of the other line, or the last that it has.
    (there[controlsOf(line).indexOf(control)] ?? there.at(-1))?.focus();
  };
  return { tabIndex: (key: string) => (key === at ? 0 : -1), list: { onFocus, onKeyDown } };
}

function nextOf(key: string, at: number, lines: number): number {
  switch (key) {
    case "ArrowDown":
      return at + 1;
    case "ArrowUp":
      return at - 1;
    case "Home":
      return 0;
    case "End":
      return lines - 1;
    default:
      return -1;
  }
}

const controlsOf = (line: HTMLElement) => [...line.querySelectorAll<HTMLElement>(CONTROLS)];
