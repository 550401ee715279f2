import { useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, type Ref, useId, useRef, useState } from "react";
import { choicesQuery } from "../api/queries";
import { type AtCaret, atCaret, complete } from "./completion";
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
  inputRef?: Ref<HTMLInputElement>;
}

/** A field for a query: offers facts and values while typing, and shows an error at its column. */
export function QueryField({ label, value, onChange, problem, placeholder, multiline, inputRef }: Props) {
  const site = useSite();
  const id = useId();
  const field = useRef<HTMLInputElement | HTMLTextAreaElement | null>(null);
  const [at, setAt] = useState<AtCaret | null>(null);
  const [chosen, setChosen] = useState(-1);
  const offers = useQuery({
    ...choicesQuery(site.slug, at?.fact ?? "", at?.typed ?? ""),
    enabled: at !== null,
  });
  const shown = at ? (offers.data ?? []).slice(0, 12) : [];
  const open = shown.length > 0;

  const look = (element: HTMLInputElement | HTMLTextAreaElement) => {
    const found = atCaret(element.value, element.selectionStart ?? 0);
    setAt(found && (found.fact || found.typed) ? found : null);
    setChosen(-1);
  };
  const take = (choice: string) => {
    if (!at) return;
    const next = complete(value, at, choice);
    onChange(next.text);
    requestAnimationFrame(() => {
      field.current?.setSelectionRange(next.caret, next.caret);
      if (field.current && !at.fact) look(field.current);
    });
    setAt(null);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === "Escape" && at) {
      event.stopPropagation();
      setAt(null);
    }
    if (!open) return;
    if (event.key === "ArrowDown" || event.key === "ArrowUp") {
      event.preventDefault();
      const step = event.key === "ArrowDown" ? 1 : -1;
      setChosen((chosen + step + shown.length) % shown.length);
    } else if ((event.key === "Enter" || event.key === "Tab") && chosen >= 0) {
      event.preventDefault();
      take(shown[chosen]?.text ?? "");
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
    onBlur: () => setAt(null),
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
        <ul className="offer" id={`${id}-offers`} role="listbox" aria-label="What fits">
          {shown.map((choice, number) => (
            <li
              key={choice.text}
              id={`${id}-${number}`}
              role="option"
              aria-selected={number === chosen}
              onMouseDown={(event) => event.preventDefault()}
              onClick={() => take(choice.text)}
            >
              <span className="mono">{choice.text}</span>
              <span className="mute clip">{choice.label === choice.text ? choice.about : choice.label}</span>
              {at?.fact && <span className="count">{count(choice.pages, "page")}</span>}
            </li>
          ))}
        </ul>
      )}
      {problem && <QueryError id={`${id}-problem`} text={value} problem={problem} />}
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
