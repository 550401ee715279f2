import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import { useQuery } from "@tanstack/react-query";
import { termPagesQuery } from "../api/ruleQueries";
import { useSite } from "../parts/site";
import { count } from "../parts/words";
import type { TermTree } from "./terms";

/** A section, a topic or an author is two things: the pages in it, and the page that lists them. */
export type Half = "pages" | "listing";
const HALVES: readonly (readonly [Half, string])[] = [
  ["pages", "its pages"],
  ["listing", "its listing"],
];

const LISTED = ["term", "author"];

/** Which halves of a section, a topic or an author a term is about; none where it is about nothing of the kind. */
export function halvesOf({ fact, values }: TermTree): Half[] {
  const [value, ...others] = values;
  if (!value || value.wild || others.length) return [];
  if (fact === "within") return ["pages", "listing"];
  if (fact === "under" || LISTED.includes(fact)) return ["pages"];
  if (fact === "page" || (fact === "lists" && LISTED.includes(value.text.split("/")[0] ?? "")))
    return ["listing"];
  return [];
}

/** The terms that are about one half, or both, of what a term names; the term itself where it has no halves. */
export function termsOf(term: TermTree, halves: Half[]): TermTree[] {
  const [value] = term.values;
  if (!value || halves.length === 0 || halvesOf(term).length === 0) return [term];
  if (["within", "under", "page"].includes(term.fact)) {
    const fact = halves.length === 2 ? "within" : halves[0] === "pages" ? "under" : "page";
    return [{ ...term, fact }];
  }
  const listing = term.fact === "lists";
  const sort = listing ? (value.text.split("/")[0] ?? "") : term.fact;
  const name = listing ? value.text.slice(sort.length + 1) : value.text;
  return halves.map((half) =>
    half === "pages"
      ? { ...term, fact: sort, values: [{ text: name }] }
      : { ...term, fact: "lists", values: [{ text: `${sort}/${name}` }] },
  );
}

interface Props {
  term: TermTree;
  halves: Half[];
  onChange: (halves: Half[]) => void;
}

/** Its pages, its listing, or both, each with how many that are; nothing where there are not both. */
export function WhichOfIt({ term, halves, onChange }: Props) {
  const site = useSite();
  const wanted = halvesOf(term).length
    ? HALVES.map(([half]) => ({ ...termsOf(term, [half])[0], negated: false }) as TermTree)
    : [];
  const counts = useQuery({ ...termPagesQuery(site.slug, wanted), enabled: wanted.length > 0 }).data;
  if (!wanted.length || !counts?.every(Boolean)) return null;
  return (
    <ToggleButtonGroup
      size="small"
      aria-label="Which of it"
      sx={{ marginTop: 1 }}
      value={halves}
      onChange={(_, chosen: Half[]) =>
        chosen.length > 0 && onChange(HALVES.map(([half]) => half).filter((half) => chosen.includes(half)))
      }
    >
      {HALVES.map(([half, name], at) => (
        <ToggleButton key={half} value={half}>
          {name}&nbsp;<span style={{ fontWeight: 400 }}>{count(counts[at] ?? 0, "page")}</span>
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}
