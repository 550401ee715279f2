import { defaultKeymap, history, historyKeymap } from "@codemirror/commands";
import { syntaxHighlighting } from "@codemirror/language";
import { EditorState, type Extension } from "@codemirror/state";
import { EditorView, keymap } from "@codemirror/view";
import { type RefObject, useEffect, useRef } from "react";
import { CODE_COLOURS } from "./codeColours";
import { useNewest, useSteadyCall } from "./useSteady";

/**
 * An editor for code in an element: what is typed is told, and what comes from elsewhere, such as an undo, takes the
 * place of what stands there. It is made anew for other extensions, which so have to stay the same.
 */
export function useCode(
  label: string,
  value: string,
  onChange: (text: string) => void,
  extensions: Extension,
): { place: RefObject<HTMLDivElement | null>; view: RefObject<EditorView | null> } {
  const place = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const newest = useNewest(value);
  const change = useSteadyCall(onChange);
  useEffect(() => {
    const made = new EditorView({
      parent: place.current as HTMLElement,
      state: EditorState.create({
        doc: newest.current,
        extensions: [
          extensions,
          history(),
          keymap.of([...defaultKeymap, ...historyKeymap]),
          syntaxHighlighting(CODE_COLOURS),
          EditorView.lineWrapping,
          EditorView.contentAttributes.of({ "aria-label": label }),
          EditorView.updateListener.of((update) => {
            if (update.docChanged) change(update.state.doc.toString());
          }),
        ],
      }),
    });
    view.current = made;
    return () => made.destroy();
  }, [label, extensions, newest, change]);
  useEffect(() => {
    const editor = view.current;
    if (editor && editor.state.doc.toString() !== value)
      editor.dispatch({ changes: { from: 0, to: editor.state.doc.length, insert: value } });
  }, [value]);
  return { place, view };
}
