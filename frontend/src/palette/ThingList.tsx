import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { useNavigate } from "react-router";
import { findingsQuery, piecesQuery, revisionsQuery } from "../api/queries";
import { choicesQuery, rulesQuery } from "../api/ruleQueries";
import { commandsNow } from "../parts/commands";
import { useLasting } from "../parts/memory";
import { SearchList } from "../parts/SearchList";
import { useLens, useLinkTo, useSite } from "../parts/site";
import { useDebounced } from "../parts/useDebounced";
import { commandsAsThings, finderOf, keyOf, pagesAsThings, type Thing, thingsOf, toldOf } from "./things";

/** Things of each sort that are offered at a time, and those gone to last. */
const MOST_PAGES = 6;
const MOST_OTHERS = 9;
const MOST_TOLD = 4;
const MOST_RECENT = 8;
const MOST_AT_FIRST = 26;

interface Props {
  text: string;
  onText: (text: string) => void;
  onDone: () => void;
}

/** What the palette offers for what is typed: those gone to last first, then views, before anything is. */
export default function Things({ text, onText, onDone }: Props) {
  const site = useSite();
  const navigate = useNavigate();
  const linkTo = useLinkTo();
  const [recent, setRecent] = useLasting<Thing[]>("recent", []);
  const typed = text.trim();
  const pages = useQuery({
    ...choicesQuery(site.slug, "page", useDebounced(typed, 40)),
    enabled: typed !== "",
  }).data;
  const rules = useQuery(rulesQuery(site.slug, useLens()));
  const pieces = useQuery(piecesQuery(site.slug));
  const findings = useQuery(findingsQuery(site.slug)).data;
  const revisions = useQuery(revisionsQuery(site.slug)).data;
  // What comes after a list stands must not push aside what a hand is about to take, so the list waits for the newest.
  const [newest, setNewest] = useState(false);
  if (!newest && !rules.isFetching && !pieces.isFetching) setNewest(true);
  // Those of the views that stand while it opens; it lies over them.
  const [commands] = useState(() => commandsAsThings(commandsNow()));
  const things = useMemo(
    () => [...thingsOf(rules.data ?? [], pieces.data ?? []), ...commands],
    [rules.data, pieces.data, commands],
  );
  const find = useMemo(() => finderOf(things), [things]);
  const findTold = useMemo(() => finderOf(toldOf(findings ?? [], revisions ?? [])), [findings, revisions]);
  const fitting = () => [
    ...find(typed, MOST_OTHERS),
    ...pagesAsThings(pages ?? []).slice(0, MOST_PAGES),
    ...findTold(typed, MOST_TOLD),
  ];
  const atFirst = () =>
    [...recent, ...commands, ...things.filter((one) => one.sort === "view")].slice(0, MOST_AT_FIRST);
  const offered = typed === "" ? atFirst() : newest ? fitting() : [];
  const go = (thing: Thing) => {
    onDone();
    if (thing.run) return thing.run();
    setRecent([thing, ...recent.filter((one) => keyOf(one) !== keyOf(thing))].slice(0, MOST_RECENT));
    navigate(linkTo(thing.to, thing.params));
  };
  return (
    <SearchList
      label="Go to"
      placeholder="A page, a rule, a piece, a view …"
      options={[...new Map(offered.map((one) => [keyOf(one), one])).values()]}
      keyOf={keyOf}
      nameOf={(thing) => thing.name}
      text={text}
      onText={onText}
      onChoose={go}
      nothing={newest ? "Nothing is called like that." : "Looking …"}
    >
      {(thing) => (
        <>
          <span className="palette-sort">{thing.sort}</span>
          <span className="clip">{thing.name}</span>
          <span className="count clip mute">{thing.about}</span>
        </>
      )}
    </SearchList>
  );
}
