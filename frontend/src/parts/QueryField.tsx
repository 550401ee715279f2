import { useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, type Ref, useId, useRef, useState } from "react";
import { completionQuery } from "../api/queries";
import { useSite } from "./site";
import { count } from "./words";

export interface QueryProblem {
  message: string;
  hint: string;
  column: number;
  length: number;
}

interface Props {
  label: string;
  value: string;
  onChange: (text: string) => void;
  problem?: QueryProblem | null;
  placeholder?: string;
  multiline?: boolean;
  /** What the query is about; pages, when not given. */
  domain?: "page" | "visitor";
  inputRef?: Ref<HTMLInputElement>;
  /**
   * For finding pages: words come first, so facts are offered only when asked for (Ctrl-Space) and values after a
   * colon, in a line of their own that covers nothing of what is found.
   */
  forSearch?: boolean;
}

/** A field for a query: offers facts and values while typing, and shows an error at its column. */
export function QueryField({
  label,
  value,
  onChange,
  problem,
  placeholder,
  multiline,
  domain = "page",
  inputRef,
  forSearch = false,
}: Props) {
  const site = useSite();
  const id = useId();
  const field = useRef<HTMLInputElement | HTMLTextAreaElement | null>(null);
  /** Where the caret stands while something is being typed; null when nothing is to be offered. */
  const [caret, setCaret] = useState<number | null>(null);
  const [chosen, setChosen] = useState(-1);
  const completion = useQuery({
    ...completionQuery(site.slug, value, caret ?? 0, domain),
    enabled: caret !== null,
  });
  const found = completion.data;
  const shown = caret !== null && found ? found.offers.slice(0, 12) : [];
  const written = found ? value.slice(found.start, found.end) : "";
  // What is written out needs no offers; in a line of their own they would only take room from what is found.
  const open = shown.length > 0 && !(forSearch && shown.some((offer) => offer.insert === written));

  const look = (element: HTMLInputElement | HTMLTextAreaElement) => {
    const place = element.selectionStart ?? 0;
    const before = element.value.slice(0, place);
    // Nothing is begun where a space or the bar of a new clause stands before the caret.
    const begun = forSearch ? /:[^\s|]*$/.test(before) : !/^$|[\s|]$/.test(before);
    setCaret(begun ? place : null);
    setChosen(-1);
  };
  const take = (insert: string) => {
    if (!found) return;
    const after = found.start + insert.length;
    onChange(value.slice(0, found.start) + insert + value.slice(found.end));
    requestAnimationFrame(() => {
      field.current?.setSelectionRange(after, after);
      if (field.current && found.what === "fact") look(field.current);
    });
    setCaret(null);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === "Escape" && caret !== null) {
      event.stopPropagation();
      setCaret(null);
    }
    if (event.key === " " && event.ctrlKey) {
      event.preventDefault();
      setCaret(field.current?.selectionStart ?? 0);
      setChosen(-1);
    }
    if (!open) return;
    const forward = event.key === "ArrowDown" || (forSearch && chosen >= 0 && event.key === "ArrowRight");
    const back = event.key === "ArrowUp" || (forSearch && chosen >= 0 && event.key === "ArrowLeft");
    if (forward || back) {
      event.preventDefault();
      const step = forward ? 1 : -1;
      setChosen((chosen + step + shown.length) % shown.length);
    } else if ((event.key === "Enter" || event.key === "Tab") && chosen >= 0) {
      event.preventDefault();
      take(shown[chosen]?.insert ?? "");
    }
  };
  const shared = {
    "aria-label": label,
    "aria-invalid": Boolean(problem),
    "aria-describedby": problem ? `${id}-problem` : undefined,
    "aria-expanded": open,
    "aria-controls": `${id}-offers`,
    "aria-activedescendant": open && chosen >= 0 ? `${id}-${chosen}` : undefined,
    role: "combobox",
    autoComplete: "off",
    spellCheck: false,
    value,
    placeholder,
    onKeyDown,
    // In a line of their own they stay: what is found below must not move under the pointer that goes to it.
    onBlur: () => forSearch || setCaret(null),
    onChange: (event: { target: HTMLInputElement | HTMLTextAreaElement }) => {
      onChange(event.target.value);
      look(event.target);
    },
  };
  const keep = (element: HTMLInputElement | HTMLTextAreaElement | null) => {
    field.current = element;
    if (typeof inputRef === "object" && inputRef) inputRef.current = element as HTMLInputElement;
  };
  return (
    <div className="query-field">
      {multiline ? <textarea {...shared} rows={1} ref={keep} /> : <input {...shared} ref={keep} />}
      {open && (
        <ul
          className={forSearch ? "offer in-line" : "offer"}
          id={`${id}-offers`}
          role="listbox"
          aria-label="What fits"
        >
          {shown.map((choice, number) => (
            <li
              key={choice.insert}
              id={`${id}-${number}`}
              role="option"
              aria-selected={number === chosen}
              onMouseDown={(event) => event.preventDefault()}
              onClick={() => take(choice.insert)}
            >
              <span className="mono">{choice.insert}</span>
              <span className="mute clip">
                {choice.label === choice.insert || found?.what === "fact" ? choice.about : choice.label}
              </span>
              {choice.pages !== null && <span className="count">{count(choice.pages, "page")}</span>}
            </li>
          ))}
        </ul>
      )}
      {problem && !(forSearch && open) && <QueryError id={`${id}-problem`} text={value} problem={problem} />}
    </div>
  );
}

function QueryError({ id, text, problem }: { id: string; text: string; problem: QueryProblem }) {
  const from = Math.max(0, problem.column - 40);
  const line = text.replaceAll("\n", " ").slice(from, problem.column + 40);
  return (
    <div className="query-error" id={id} role="alert">
      {text.trim() !== "" && (
        <pre aria-hidden="true">
          {line}
          {"\n"}
          {" ".repeat(problem.column - 1 - from)}
          {"^".repeat(Math.min(problem.length, 40))}
        </pre>
      )}
      Column {problem.column}: {problem.message}
      {problem.hint && <span className="mute"> — {problem.hint}</span>}
    </div>
  );
}
