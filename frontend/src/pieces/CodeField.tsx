import { autocompletion, type CompletionContext, type CompletionResult } from "@codemirror/autocomplete";
import { defaultKeymap, history, historyKeymap } from "@codemirror/commands";
import { css } from "@codemirror/lang-css";
import { liquid } from "@codemirror/lang-liquid";
import { syntaxHighlighting } from "@codemirror/language";
import { setDiagnostics } from "@codemirror/lint";
import { Compartment, EditorState } from "@codemirror/state";
import { EditorView, keymap, lineNumbers } from "@codemirror/view";
import { useEffect, useRef } from "react";
import type { Shapes } from "../api/client";
import { CODE_COLOURS } from "../parts/codeColours";
import { lineOf } from "./codeLine";
import "./code.css";

interface Props {
  language: "markup" | "css";
  label: string;
  value: string;
  problem?: string;
  words?: Shapes["MarkupWords"];
  onChange: (text: string) => void;
}

/** What is told to markup by its names, its filters, and the tags of the language, as completion offers them. */
function offers(words: Shapes["MarkupWords"]) {
  return (context: CompletionContext): CompletionResult | null => {
    const filter = context.matchBefore(/\|\s*\w*/);
    if (filter) {
      const from = filter.from + (/\|\s*/.exec(filter.text)?.[0].length ?? 0);
      return { from, options: words.filters.map((label) => ({ label, type: "function" })) };
    }
    const tag = context.matchBefore(/\{%-?\s*\w*/);
    if (tag) {
      const from = tag.from + (/\{%-?\s*/.exec(tag.text)?.[0].length ?? 0);
      return { from, options: words.tags.map((label) => ({ label, type: "keyword" })) };
    }
    const name = context.matchBefore(/[\w.]+/);
    const inside = context.state.sliceDoc(Math.max(0, context.pos - 200), context.pos);
    const open = Math.max(inside.lastIndexOf("{{"), inside.lastIndexOf("{%"));
    if (open < Math.max(inside.lastIndexOf("}}"), inside.lastIndexOf("%}"))) return null;
    if (open < 0 || !(name || context.explicit || /\{\{\s*$/.test(inside))) return null;
    return {
      from: name?.from ?? context.pos,
      options: words.names.map((label) => ({ label, type: "variable" })),
      validFor: /[\w.]*/,
    };
  };
}

/** A field for code, with its language's colours, completion, and what is wrong marked in its line. */
export default function CodeField({ language, label, value, problem, words, onChange }: Props) {
  const place = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const change = useRef(onChange);
  change.current = onChange;
  const first = useRef(value);
  const completion = useRef(new Compartment());
  useEffect(() => {
    const compartment = completion.current;
    const made = new EditorView({
      parent: place.current as HTMLElement,
      state: EditorState.create({
        doc: first.current,
        extensions: [
          lineNumbers(),
          history(),
          keymap.of([...defaultKeymap, ...historyKeymap]),
          syntaxHighlighting(CODE_COLOURS),
          language === "css" ? css() : liquid(),
          compartment.of([]),
          EditorView.lineWrapping,
          EditorView.contentAttributes.of({ "aria-label": label }),
          EditorView.updateListener.of((update) => {
            if (update.docChanged) change.current(update.state.doc.toString());
          }),
        ],
      }),
    });
    view.current = made;
    return () => made.destroy();
  }, [language, label]);
  useEffect(() => {
    const override = words && language === "markup" ? [offers(words)] : undefined;
    view.current?.dispatch({
      effects: completion.current.reconfigure(autocompletion(override ? { override } : {})),
    });
  }, [words, language]);
  useEffect(() => {
    // What came from elsewhere, such as an undo, takes the place of what stands there.
    const editor = view.current;
    if (editor && editor.state.doc.toString() !== value)
      editor.dispatch({ changes: { from: 0, to: editor.state.doc.length, insert: value } });
  }, [value]);
  useEffect(() => {
    const editor = view.current;
    if (!editor) return;
    const number = problem ? lineOf(problem, editor.state.doc.lines) : 0;
    const line = number ? editor.state.doc.line(number) : null;
    editor.dispatch(
      setDiagnostics(
        editor.state,
        line ? [{ from: line.from, to: line.to, severity: "error", message: problem ?? "" }] : [],
      ),
    );
  }, [problem]);
  return <div ref={place} className="code-field" />;
}
