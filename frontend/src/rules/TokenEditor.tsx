import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { choicesQuery } from "../api/queries";
import { useSite } from "../parts/site";
import { count } from "../parts/words";
import { type Term, termText } from "./sentence";

const PAGE_FACTS: [string, string][] = [
  ["page", "page"],
  ["within", "within"],
  ["under", "below"],
  ["child", "child of"],
  ["type", "type"],
  ["kind", "kind"],
  ["term", "term"],
  ["author", "author"],
  ["lang", "language"],
  ["path", "path pattern"],
  ["lists", "lists"],
  ["words", "words"],
  ["published", "published"],
  ["all", "every page"],
];
const VISITOR_FACTS: [string, string][] = [
  ["signed", "signed in or out"],
  ["role", "role"],
  ["device", "device"],
  ["browser", "browser"],
  ["accepts", "language"],
  ["referrer", "came from"],
];

interface Props {
  term: Term | null;
  domain: "page" | "visitor";
  onChange: (text: string | null) => void;
}

/** The small editor behind a token: a fact, its values found by searching the site, and whether it is negated. */
export function TokenEditor({ term, domain, onChange }: Props) {
  const site = useSite();
  const facts = domain === "page" ? PAGE_FACTS : VISITOR_FACTS;
  const [fact, setFact] = useState(term?.fact ?? (domain === "page" ? "page" : "signed"));
  const [values, setValues] = useState(term?.values ?? []);
  const [negated, setNegated] = useState(term?.negated ?? false);
  const [text, setText] = useState("");
  const [active, setActive] = useState(0);
  const found = useQuery({ ...choicesQuery(site.slug, fact, text), enabled: fact !== "all" });
  const choices = found.data ?? [];
  const typed = text.trim();
  const own =
    typed && !choices.some((choice) => choice.text === typed)
      ? [{ text: typed, label: `Use “${typed}”`, about: "", pages: 0 }]
      : [];
  const offered = [...choices, ...own];
  const ready = fact === "all" || values.length > 0;

  const toggle = (value: string) => {
    setValues(values.includes(value) ? values.filter((known) => known !== value) : [...values, value]);
    setText("");
    setActive(0);
  };
  const done = () => ready && onChange(termText(fact, values, negated, term?.fact === fact ? term.key : ""));
  return (
    <div className="popover" role="dialog" aria-label={term ? `Edit ${term.text}` : "A new term"}>
      <div className="facts">
        {facts.map(([name, label]) => (
          <button
            type="button"
            key={name}
            className={`token ${name === fact ? "" : "add"}`}
            style={{ fontSize: 12, padding: "2px 7px" }}
            aria-pressed={name === fact}
            onClick={() => {
              setFact(name);
              setValues([]);
            }}
          >
            {label}
          </button>
        ))}
      </div>
      {fact !== "all" && (
        <>
          {values.length > 0 && (
            <div className="facts">
              {values.map((value) => (
                <button
                  type="button"
                  key={value}
                  className="token"
                  aria-label={`Take away ${value}`}
                  onClick={() => toggle(value)}
                >
                  {value} ×
                </button>
              ))}
            </div>
          )}
          <input
            className="input"
            aria-label="Value"
            placeholder={
              fact === "page" || fact === "within" ? "Type part of a title or a path" : "Type to search"
            }
            autoFocus
            value={text}
            onChange={(event) => {
              setText(event.target.value);
              setActive(0);
            }}
            onKeyDown={(event) => {
              if (event.key === "ArrowDown") setActive(Math.min(active + 1, offered.length - 1));
              else if (event.key === "ArrowUp") setActive(Math.max(active - 1, 0));
              else if (event.key === "Enter" && typed && offered[active]) toggle(offered[active].text);
              else if (event.key === "Enter") done();
              else return;
              event.preventDefault();
            }}
          />
          <ul className="choices" role="listbox" aria-label="Values" aria-multiselectable="true">
            {offered.map((choice, number) => (
              <li
                key={choice.text}
                role="option"
                aria-selected={number === active}
                onClick={() => toggle(choice.text)}
              >
                <input
                  type="checkbox"
                  readOnly
                  tabIndex={-1}
                  aria-hidden="true"
                  checked={values.includes(choice.text)}
                />
                <span className="clip">{choice.label}</span>
                {choice.label !== choice.text && <span className="mono mute clip">{choice.text}</span>}
                {domain === "page" && choice.pages > 0 && (
                  <span className="count">{count(choice.pages, "page")}</span>
                )}
              </li>
            ))}
          </ul>
        </>
      )}
      <div className="row" style={{ marginTop: 10 }}>
        <label className="row">
          <input type="checkbox" checked={negated} onChange={(event) => setNegated(event.target.checked)} />
          not
        </label>
        <span className="grow" />
        {term && (
          <Button variant="text" color="error" onClick={() => onChange(null)}>
            Take away
          </Button>
        )}
        <Button
          variant="contained"
          disabled={!ready}
          title={ready ? undefined : "Waits for a value"}
          onClick={done}
        >
          Done
        </Button>
      </div>
    </div>
  );
}
