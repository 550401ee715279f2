import { autocompletion, type CompletionContext, type CompletionResult } from "@codemirror/autocomplete";
import { css } from "@codemirror/lang-css";
import { liquid } from "@codemirror/lang-liquid";
import { setDiagnostics } from "@codemirror/lint";
import { Compartment } from "@codemirror/state";
import { lineNumbers } from "@codemirror/view";
import { useEffect, useMemo, useState } from "react";
import type { Shapes } from "../api/client";
import { useCode } from "../parts/useCode";
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
  const [completion] = useState(() => new Compartment());
  const extensions = useMemo(
    () => [lineNumbers(), language === "css" ? css() : liquid(), completion.of([])],
    [language, completion],
  );
  const { place, view } = useCode(label, value, onChange, extensions);
  useEffect(() => {
    const override = words && language === "markup" ? [offers(words)] : undefined;
    view.current?.dispatch({
      effects: completion.reconfigure(autocompletion(override ? { override } : {})),
    });
  }, [words, language, completion, view]);
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
  }, [problem, view]);
  return <div ref={place} className="code-field" />;
}
