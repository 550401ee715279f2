import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Shapes } from "../api/client";
import { termsQuery } from "../api/queries";
import { LabelledField } from "../parts/controls";
import { useSite } from "../parts/site";
import { count } from "../parts/words";

type Term = Shapes["TermRow"];

/** Terms from which they are narrowed by typing. */
const MANY = 20;

function grouped<K>(terms: Term[], keyOf: (term: Term) => K): Map<K, Term[]> {
  const found = new Map<K, Term[]>();
  for (const term of terms) found.set(keyOf(term), [...(found.get(keyOf(term)) ?? []), term]);
  return found;
}

interface Props {
  chosen: string[];
  onChange: (terms: string[]) => void;
}

/** The terms of the site as trees, one for each taxonomy; those that a page carries are ticked. */
export function TermTree({ chosen, onChange }: Props) {
  const terms = useQuery(termsQuery(useSite().slug)).data ?? [];
  const [text, setText] = useState("");
  const wanted = text.trim().toLowerCase();
  const below = grouped(terms, (term) => term.parent);
  const taxonomies = grouped(below.get(null) ?? [], (term) => term.taxonomy);
  const fits = (term: Term): boolean =>
    term.name.toLowerCase().includes(wanted) || (below.get(term.path) ?? []).some(fits);
  const branch = (branches: Term[]) => (
    <ul>
      {branches.filter(fits).map((term) => (
        <li key={term.path}>
          <FormControlLabel
            label={
              <>
                {term.name} <span className="mute">{count(term.pages, "page")}</span>
              </>
            }
            control={
              <Checkbox
                checked={chosen.includes(term.path)}
                onChange={(event) =>
                  onChange(
                    event.target.checked
                      ? [...chosen, term.path]
                      : chosen.filter((other) => other !== term.path),
                  )
                }
              />
            }
          />
          {below.has(term.path) && branch(below.get(term.path) ?? [])}
        </li>
      ))}
    </ul>
  );
  if (terms.length === 0) return <p className="mute">The site has no terms.</p>;
  return (
    <div className="term-tree">
      {terms.length > MANY && (
        <LabelledField label="Part of a term" placeholder="Part of a term" value={text} onChange={setText} />
      )}
      {[...taxonomies].map(([taxonomy, tops]) => (
        <fieldset key={taxonomy}>
          <legend className="mute">{taxonomy}</legend>
          {branch(tops)}
        </fieldset>
      ))}
    </div>
  );
}
