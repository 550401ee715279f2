import {
  acceptCompletion,
  autocompletion,
  type Completion,
  type CompletionContext,
  type CompletionResult,
  insertCompletionText,
  startCompletion,
} from "@codemirror/autocomplete";
import { defaultKeymap, history, historyKeymap } from "@codemirror/commands";
import { StreamLanguage, syntaxHighlighting } from "@codemirror/language";
import { setDiagnostics } from "@codemirror/lint";
import { Compartment, EditorState } from "@codemirror/state";
import { EditorView, keymap } from "@codemirror/view";
import { type QueryClient, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import type { Shapes } from "../api/client";
import { completionQuery } from "../api/ruleQueries";
import { CODE_COLOURS } from "../parts/codeColours";
import type { QueryProblem } from "../parts/QueryField";
import { useSite } from "../parts/site";
import { useSteadyCall } from "../parts/useSteady";
import { count } from "../parts/words";
import { queryToken } from "./queryColours";

export interface QueryCodeProps {
  label: string;
  value: string;
  domain: "page" | "visitor";
  problem: QueryProblem | null | undefined;
  /** The id of what tells the problem. */
  describedBy: string;
  onChange: (text: string) => void;
}

/** What is offered at once; typing one letter more narrows it. */
const MOST_SHOWN = 12;
const QUERY = StreamLanguage.define({ name: "query", token: queryToken });

/** A query as text: in colours, with facts and values offered while it is typed, and a mark where it is wrong. */
export default function QueryCode({ label, value, domain, problem, describedBy, onChange }: QueryCodeProps) {
  const site = useSite().slug;
  const client = useQueryClient();
  const place = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const change = useSteadyCall(onChange);
  const first = useRef(value);
  const described = useRef(new Compartment());
  useEffect(() => {
    const made = new EditorView({
      parent: place.current as HTMLElement,
      state: EditorState.create({
        doc: first.current,
        extensions: [
          history(),
          // Tab takes what is meant of the offers, and else leads on.
          keymap.of([{ key: "Tab", run: acceptCompletion }, ...defaultKeymap, ...historyKeymap]),
          QUERY,
          syntaxHighlighting(CODE_COLOURS),
          autocompletion({
            override: [(context) => offers(context, client, site, domain)],
            selectOnOpen: false,
            icons: false,
          }),
          EditorState.phrases.of({ Completions: "What fits" }),
          EditorView.lineWrapping,
          EditorView.contentAttributes.of({ "aria-label": label, spellcheck: "false" }),
          described.current.of([]),
          EditorView.updateListener.of((update) => {
            if (update.docChanged) change(update.state.doc.toString());
          }),
        ],
      }),
    });
    view.current = made;
    return () => made.destroy();
  }, [label, domain, site, client, change]);
  useEffect(() => {
    // What came from elsewhere, such as a token, takes the place of what stands there.
    const editor = view.current;
    if (editor && editor.state.doc.toString() !== value)
      editor.dispatch({ changes: { from: 0, to: editor.state.doc.length, insert: value } });
  }, [value]);
  useEffect(() => {
    const editor = view.current;
    if (!editor) return;
    const end = editor.state.doc.length;
    const from = problem ? Math.min(problem.column - 1, end) : 0;
    const to = problem ? Math.min(from + Math.max(problem.length, 1), end) : 0;
    const attributes: Record<string, string> = problem
      ? { "aria-invalid": "true", "aria-describedby": describedBy }
      : {};
    editor.dispatch({
      effects: described.current.reconfigure(EditorView.contentAttributes.of(attributes)),
    });
    editor.dispatch(
      setDiagnostics(
        editor.state,
        problem ? [{ from, to, severity: "error", message: problem.message }] : [],
      ),
    );
  }, [problem, describedBy]);
  return <div ref={place} className={problem ? "query-code wrong" : "query-code"} />;
}

/** The facts or values that fit where the caret stands; none where nothing is begun, unless they are asked for. */
async function offers(
  context: CompletionContext,
  client: QueryClient,
  site: string,
  domain: "page" | "visitor",
): Promise<CompletionResult | null> {
  const text = context.state.doc.toString();
  if (!context.explicit && /^$|[\s|]$/.test(text.slice(0, context.pos))) return null;
  const found = await client.fetchQuery(completionQuery(site, text, context.pos, domain));
  const options = found.offers.slice(0, MOST_SHOWN).map((offer) => optionOf(offer, found.what));
  return { from: found.start, to: found.end, options, filter: false };
}

function optionOf(offer: Shapes["OfferInfo"], what: Shapes["CompletionInfo"]["what"]): Completion {
  const told = offer.label === offer.insert || what === "fact" ? offer.about : offer.label;
  const pages = offer.pages === null ? "" : ` · ${count(offer.pages, "page")}`;
  return {
    label: offer.insert,
    detail: `${told}${pages}`,
    apply: (editor, _, from, to) => {
      editor.dispatch(insertCompletionText(editor.state, offer.insert, from, to));
      // Behind a fact its values are wanted.
      if (what === "fact") startCompletion(editor);
    },
  };
}
