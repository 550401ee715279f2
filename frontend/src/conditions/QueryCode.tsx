import {
  acceptCompletion,
  autocompletion,
  type Completion,
  type CompletionContext,
  type CompletionResult,
  insertCompletionText,
  startCompletion,
} from "@codemirror/autocomplete";
import { StreamLanguage } from "@codemirror/language";
import { setDiagnostics } from "@codemirror/lint";
import { Compartment, EditorState } from "@codemirror/state";
import { EditorView, keymap } from "@codemirror/view";
import { type QueryClient, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { answered } from "../api/anew";
import type { Shapes } from "../api/client";
import { completionQuery } from "../api/ruleQueries";
import type { QueryProblem } from "../parts/QueryField";
import { useSite } from "../parts/site";
import { useCode } from "../parts/useCode";
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
  const [described] = useState(() => new Compartment());
  const extensions = useMemo(
    () => [
      // Tab takes what is meant of the offers, and else leads on.
      keymap.of([{ key: "Tab", run: acceptCompletion }]),
      QUERY,
      autocompletion({
        override: [(context) => offers(context, client, site, domain)],
        selectOnOpen: false,
        icons: false,
      }),
      EditorState.phrases.of({ Completions: "What fits" }),
      EditorView.contentAttributes.of({ spellcheck: "false" }),
      described.of([]),
    ],
    [client, site, domain, described],
  );
  const { place, view } = useCode(label, value, onChange, extensions);
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
      effects: described.reconfigure(EditorView.contentAttributes.of(attributes)),
    });
    editor.dispatch(
      setDiagnostics(
        editor.state,
        problem ? [{ from, to, severity: "error", message: problem.message }] : [],
      ),
    );
  }, [problem, describedBy, described, view]);
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
  const found = await answered(client, completionQuery(site, text, context.pos, domain));
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
