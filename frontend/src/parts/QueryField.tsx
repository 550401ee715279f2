import Autocomplete from "@mui/material/Autocomplete";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import {
  type FormEvent,
  type KeyboardEvent,
  type ReactNode,
  type Ref,
  useEffect,
  useId,
  useRef,
  useState,
} from "react";
import type { Shapes } from "../api/client";
import { completionQuery } from "../api/ruleQueries";
import { useSite } from "./site";
import { useDebounced } from "./useDebounced";
import { count } from "./words";

type Offer = Shapes["OfferInfo"];
/** What is offered at once; typing one letter more narrows it. */
const MOST_SHOWN = 12;

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
  inputRef?: Ref<HTMLInputElement>;
  /**
   * For finding pages: words come first, so facts are offered only when asked for (Ctrl-Space) and values after a
   * colon, in a line of their own that covers nothing of what is found.
   */
  forSearch?: boolean;
}

/** A field for a query about pages: offers facts and values while typing, and shows an error at its column. */
export function QueryField({
  label,
  value,
  onChange,
  problem,
  placeholder,
  inputRef,
  forSearch = false,
}: Props) {
  const site = useSite();
  const id = useId();
  const field = useRef<HTMLInputElement | null>(null);
  /** Where the caret stands while something is being typed; null when nothing is to be offered. */
  const [caret, setCaret] = useState<number | null>(null);
  const [meant, setMeant] = useState<Offer | null>(null);
  const asked = useDebounced({ value, caret }, 60);
  const completion = useQuery({
    ...completionQuery(site.slug, asked.value, asked.caret ?? 0, "page"),
    enabled: asked.caret !== null,
  });
  const found = completion.data;
  // What was offered for another text fits this one no more.
  const current = asked.value === value && !completion.isPlaceholderData;
  const shown = caret !== null && found && current ? found.offers.slice(0, MOST_SHOWN) : [];
  // The list forgets what is marked in it at the first drawing after its options change: that one comes at once, not
  // when what is found does, which may be after a key.
  const [, drawAgain] = useState<typeof found>();
  useEffect(() => drawAgain(found), [found]);
  const written = found ? value.slice(found.start, found.end) : "";
  // What is written out needs no offers; in a line of their own they would only take room from what is found.
  const open = shown.length > 0 && !(forSearch && shown.some((offer) => offer.insert === written));

  const look = (element: HTMLInputElement) => {
    const place = element.selectionStart ?? 0;
    const before = element.value.slice(0, place);
    // Nothing is begun where a space or the bar of a new clause stands before the caret.
    const begun = forSearch ? /:[^\s|]*$/.test(before) : !/^$|[\s|]$/.test(before);
    setCaret(begun ? place : null);
  };
  const take = ({ insert }: Offer) => {
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
    if (event.key === " " && event.ctrlKey) {
      event.preventDefault();
      setCaret(field.current?.selectionStart ?? 0);
    } else if (event.key === "Tab" && open && meant) {
      event.preventDefault();
      take(meant);
    }
  };
  return (
    <div className={forSearch ? "query-field for-search" : "query-field"}>
      <Autocomplete<Offer, false, true, true>
        freeSolo
        disableClearable
        disablePortal
        open={open}
        value=""
        inputValue={value}
        options={shown}
        filterOptions={(offers) => offers}
        getOptionLabel={(offer) => (typeof offer === "string" ? offer : offer.insert)}
        onInputChange={(_, text, reason) => reason === "input" && onChange(text)}
        onChange={(_, chosen) => typeof chosen === "object" && take(chosen)}
        onHighlightChange={(_, offer) => setMeant(offer)}
        // In a line of their own they stay: what is found below must not move under the pointer that goes to it.
        onClose={(_, reason) => (reason === "escape" || !forSearch) && setCaret(null)}
        renderOption={({ key: _, ...props }, offer) => (
          <li {...props} key={offer.insert}>
            <span className="mono">{offer.insert}</span>
            <span className="mute clip">
              {offer.label === offer.insert || found?.what === "fact" ? offer.about : offer.label}
            </span>
            {offer.pages !== null && <span className="count">{count(offer.pages, "page")}</span>}
          </li>
        )}
        slots={{ popper: forSearch ? InLine : undefined }}
        slotProps={{
          listbox: { "aria-label": "What fits", className: forSearch ? "offer in-line" : "offer" },
          popper: { placement: "bottom-start", style: { width: "max-content", minWidth: "100%" } },
        }}
        renderInput={(params) => (
          <TextField
            {...params}
            fullWidth
            placeholder={placeholder}
            error={Boolean(problem)}
            onKeyDown={onKeyDown}
            // Offers that are still on their way must not come up when the field is left.
            onBlur={() => forSearch || setCaret(null)}
            inputRef={(element: HTMLInputElement | null) => {
              field.current = element;
              if (typeof inputRef === "object" && inputRef) inputRef.current = element;
            }}
            slotProps={{
              ...params.slotProps,
              htmlInput: {
                ...params.slotProps?.htmlInput,
                "aria-label": label,
                "aria-describedby": problem ? `${id}-problem` : undefined,
                className: "mono",
                spellCheck: false,
                onInput: (event: FormEvent<HTMLInputElement>) => look(event.currentTarget),
              },
            }}
          />
        )}
      />
      {problem && !(forSearch && open) && <QueryError id={`${id}-problem`} text={value} problem={problem} />}
    </div>
  );
}

interface InLineProps {
  open: boolean;
  children?: ReactNode | ((props: never) => ReactNode);
}

/** The offers in a line of their own, which covers nothing of what is found. */
function InLine({ open, children }: InLineProps) {
  // What was offered last is handed in still when nothing is.
  return open && <div className="offers-in-line">{children as ReactNode}</div>;
}

interface ErrorProps {
  id: string;
  problem: QueryProblem;
  /** The text, where the place is not marked in it. */
  text?: string;
}

/** What is wrong with a query, at its column. */
export function QueryError({ id, text = "", problem }: ErrorProps) {
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
