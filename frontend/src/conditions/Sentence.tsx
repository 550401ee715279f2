import Popover from "@mui/material/Popover";
import { useQuery } from "@tanstack/react-query";
import { Fragment, type ReactNode, useState } from "react";
import { readQueryQuery } from "../api/ruleQueries";
import { useTellError } from "../parts/messages";
import { useSite } from "../parts/site";
import { TokenEditor } from "./TokenEditor";
import "./conditions.css";
import { type Clauses, type Term, tokenPath, tokenText, withTerms, writtenText } from "./terms";

export interface SentenceProps {
  text: string;
  domain: "page" | "visitor";
  tone: "" | "against" | "who";
  /** What the first and the following clauses begin with. */
  leads: [string, string];
  /** Shown where the query is empty. */
  empty: string;
  add: string;
  onChange: (text: string) => void;
  /** A term is pointed at, or none any more. */
  onPoint?: ((at: TermAt | null) => void) | undefined;
}

/** A term by its place: in which clause, and where in it. */
export interface TermAt {
  clause: number;
  place: number;
}

interface Place {
  clause: number;
  place: number;
  term: Term | null;
  anchor: HTMLElement;
}

/** One query as a sentence of tokens. Each token opens its editor; the query's text stays the one truth. */
export function Sentence({ text, domain, tone, leads, empty, add, onChange, onPoint }: SentenceProps) {
  const site = useSite();
  const tellError = useTellError();
  const read = useQuery(readQueryQuery(site.slug, text, domain));
  const clauses: Clauses = read.data?.problem ? [] : (read.data?.clauses ?? []);
  const [place, setPlace] = useState<Place | null>(null);
  const broken = Boolean(read.data?.problem);

  const token = (clause: number, number: number, term: Term) => (
    <button
      type="button"
      className={`token ${tone || (term.negated ? "against" : "")}`}
      aria-haspopup="dialog"
      title={term.text}
      onClick={(event) => setPlace({ clause, place: number, term, anchor: event.currentTarget })}
      onMouseEnter={() => onPoint?.({ clause, place: number })}
      onMouseLeave={() => onPoint?.(null)}
      onFocus={() => onPoint?.({ clause, place: number })}
      onBlur={() => onPoint?.(null)}
    >
      {tokenText(term)}
      {tokenPath(term) && <span className="mono at"> {tokenPath(term)}</span>}
    </button>
  );
  const adder = (clause: number, number: number, label: string) => (
    <button
      type="button"
      className="token add"
      disabled={broken}
      title={broken ? "Waits until the text below is mended" : undefined}
      aria-haspopup="dialog"
      onClick={(event) => setPlace({ clause, place: number, term: null, anchor: event.currentTarget })}
    >
      + {label}
    </button>
  );
  return (
    <>
      {clauses.length === 0 && (
        <Line lead={leads[0]}>
          <span className={`token ${tone} plainly`} style={{ cursor: "default" }}>
            {broken ? "not readable yet" : empty}
          </span>{" "}
          {adder(0, 0, add)}
        </Line>
      )}
      {clauses.map((clause, number) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a clause is its place
        <Line key={number} lead={number ? leads[1] : leads[0]}>
          {clause.map((term, at) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: a term is its place, as one may be written twice
            <Fragment key={at}>
              {at > 0 && " and "}
              {token(number, at, term)}
            </Fragment>
          ))}{" "}
          {adder(number, clause.length, "and")}{" "}
          {number === clauses.length - 1 && adder(clauses.length, 0, leads[1])}
        </Line>
      ))}
      <Popover
        open={place !== null}
        anchorEl={place?.anchor ?? null}
        onClose={() => setPlace(null)}
        anchorOrigin={{ vertical: "bottom", horizontal: "left" }}
      >
        {place && (
          <TokenEditor
            term={place.term}
            domain={domain}
            onChange={async (changed) => {
              const next = withTerms(clauses, place.clause, place.place, changed);
              setPlace(null);
              try {
                onChange(next.length ? await writtenText(site.slug, next, domain) : "");
              } catch (error) {
                tellError(error);
              }
            }}
          />
        )}
      </Popover>
    </>
  );
}

export function Line({ lead, children }: { lead: string; children: ReactNode }) {
  return (
    <div className="said">
      <span className="lead">{lead}</span>
      <span>{children}</span>
    </div>
  );
}
