import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import Chip from "@mui/material/Chip";
import { useQuery } from "@tanstack/react-query";
import { type ClipboardEvent, useState } from "react";
import type { Shapes } from "../api/client";
import { treeQuery } from "../api/queries";
import { choicesQuery } from "../api/ruleQueries";
import { knownAndUnknown, pastedPaths } from "../parts/addresses";
import { Segments } from "../parts/controls";
import { SearchList } from "../parts/SearchList";
import { useSite } from "../parts/site";
import { useDebounced } from "../parts/useDebounced";
import { count } from "../parts/words";
import { NAMING_PAGES, type Term, type TermTree } from "./terms";
import { type Half, halvesOf, termsOf, WhichOfIt } from "./WhichOfIt";

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

const IS = [
  ["so", "is"],
  ["not", "is not"],
] as const;

type Value = Shapes["ValueTree"];

interface Props {
  term: Term | null;
  domain: "page" | "visitor";
  /** None takes the term away; of several any will do. */
  onChange: (terms: TermTree[]) => void;
}

const same = (one: Value, other: Value) =>
  one.text === other.text && (one.wild ?? false) === (other.wild ?? false);

/** The small editor behind a token: a fact, its values found by searching the site, and whether it is negated. */
export function TokenEditor({ term, domain, onChange }: Props) {
  const site = useSite();
  const facts = domain === "page" ? PAGE_FACTS : VISITOR_FACTS;
  const [fact, setFact] = useState(term?.fact ?? (domain === "page" ? "page" : "signed"));
  const [values, setValues] = useState<Value[]>(term?.values ?? []);
  /** What people call the values that are chosen. */
  const [names, setNames] = useState(
    () => new Map(term?.values.map((value, at) => [value.text, term.names[at] ?? value.text])),
  );
  const [negated, setNegated] = useState(term?.negated ?? false);
  const [text, setText] = useState("");
  const [unknown, setUnknown] = useState<string[]>([]);
  const tree = useQuery(treeQuery(site.slug, site.inventory_version)).data;
  const [halves, setHalves] = useState<Half[]>([]);
  // A fact that has a key, such as a field, keeps it as long as it is that fact.
  const key = term?.fact === fact ? term.key : "";
  const found = useQuery({
    ...choicesQuery(site.slug, key ? `${fact}.${key}` : fact, useDebounced(text, 60)),
    enabled: fact !== "all",
  });
  const typed = text.trim();
  const choices = found.data ?? [];
  const own = { text: typed, label: `Use “${typed}”`, about: "", pages: 0, wild: false };
  const offered = typed && !choices.some((choice) => choice.text === typed) ? [...choices, own] : choices;
  const ready = fact === "all" || values.length > 0;

  const nameOf = (value: Value) => (value.wild ? "any value" : (names.get(value.text) ?? value.text));
  const toggle = ({ text: value, wild, label = value }: Value & { label?: string }) => {
    setNames(new Map(names).set(value, label));
    const chosen = { text: value, wild: wild ?? false };
    setValues(
      values.some((known) => same(known, chosen))
        ? values.filter((known) => !same(known, chosen))
        : [...values, chosen],
    );
    setText("");
    setHalves([]);
  };
  /** Addresses that are pasted become values; those that the site has not are named. */
  const paste = (event: ClipboardEvent) => {
    const paths = NAMING_PAGES.includes(fact) ? pastedPaths(event.clipboardData.getData("text")) : null;
    if (!paths) return;
    event.preventDefault();
    const known = new Set(tree?.paths);
    const held = new Set(values.map((value) => value.text));
    setNames(new Map([...names, ...paths.map((path) => [path, titleOf(path)] as const)]));
    setValues([...values, ...paths.filter((path) => !held.has(path)).map((path) => ({ text: path }))]);
    setUnknown(knownAndUnknown(paths, known)[1]);
  };
  const titleOf = (path: string) => tree?.titles[tree.paths.indexOf(path)] ?? path;
  const stated = { fact, key, values: fact === "all" ? [] : values, negated };
  const chosen = halves.length ? halves : halvesOf(stated);
  const done = () => ready && onChange(termsOf(stated, chosen));
  return (
    <div
      className="popover"
      role="dialog"
      onPaste={paste}
      aria-label={term ? `Edit ${term.text}` : "A new term"}
    >
      <div className="facts">
        {facts.map(([name, label]) => (
          <Chip
            key={name}
            size="small"
            label={label}
            color={name === fact ? "primary" : "default"}
            variant={name === fact ? "filled" : "outlined"}
            aria-pressed={name === fact}
            onClick={() => {
              setFact(name);
              setValues([]);
              setHalves([]);
            }}
          />
        ))}
      </div>
      {fact !== "all" && (
        <>
          {values.length > 0 && (
            <div className="facts">
              {values.map((value) => (
                <Chip
                  key={`${value.text} ${value.wild}`}
                  size="small"
                  label={`${nameOf(value)} ×`}
                  aria-label={`Take away ${nameOf(value)}`}
                  title={value.text}
                  onClick={() => toggle(value)}
                />
              ))}
            </div>
          )}
          <SearchList
            label="Value"
            placeholder={
              fact === "page" || fact === "within" ? "Type part of a title or a path" : "Type to search"
            }
            options={offered}
            keyOf={(choice) => `${choice.text} ${choice.wild}`}
            nameOf={(choice) => choice.label}
            text={text}
            onText={setText}
            onChoose={(choice) => toggle(choice === own ? { text: typed } : choice)}
            onEnter={done}
            isChosen={(choice) => values.some((value) => same(value, choice))}
            nothing={found.isPending ? "" : "Nothing on this site fits."}
          >
            {(choice) => (
              <>
                <Checkbox
                  size="small"
                  tabIndex={-1}
                  disableRipple
                  checked={values.some((value) => same(value, choice))}
                  slotProps={{ input: { "aria-hidden": true } }}
                />
                <span className="clip">{choice.label}</span>
                {choice.label !== choice.text && <span className="mono mute clip">{choice.text}</span>}
                {domain === "page" && choice.pages > 0 && (
                  <span className="count">{count(choice.pages, "page")}</span>
                )}
              </>
            )}
          </SearchList>
          {unknown.length > 0 && (
            <p className="field-error" role="alert">
              Not on this site: {unknown.join(", ")}
            </p>
          )}
          <WhichOfIt term={stated} halves={chosen} onChange={setHalves} />
        </>
      )}
      <div className="row" style={{ marginTop: 10 }}>
        <Segments
          label="Whether it is so"
          value={negated ? "not" : "so"}
          options={IS}
          onChange={(wanted) => setNegated(wanted === "not")}
        />
        <span className="grow" />
        {term && (
          <Button variant="text" color="error" onClick={() => onChange([])}>
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
