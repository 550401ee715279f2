import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { type ClipboardEvent, useCallback, useMemo, useRef, useState } from "react";
import { Link } from "react-router";
import type { Shapes } from "../api/client";
import { layoutQuery, type Tree, treeQuery } from "../api/queries";
import { knownAndUnknown, pastedPaths } from "../parts/addresses";
import { useCommand } from "../parts/commands";
import { Chooser } from "../parts/controls";
import { useAddressed, useKept, useLasting } from "../parts/memory";
import { Opening } from "../parts/Opening";
import { QueryField } from "../parts/QueryField";
import { useAddress, useLens, usePieces, useSite } from "../parts/site";
import { count, figure } from "../parts/words";
import { useNewRule } from "../rules/useNewRule";
import { ChooseRule } from "./ChooseRule";
import { ColumnsMenu } from "./ColumnsMenu";
import type { Widths } from "./ColumnWidth";
import { Grid } from "./Grid";
import { GridFrame } from "./GridFrame";
import type { Ghosts } from "./GridRow";
import { GROUPINGS, type Grouping, groupedLines, groupKey, useGroups } from "./groups";
import { KeptSearches } from "./KeptSearches";
import { Legend } from "./Legend";
import { usePinMarks } from "./marks";
import { actionFor, doingText, type Meant, ruleFor } from "./newRule";
import { PagePanel } from "./PagePanel";
import { PickAlike } from "./PickAlike";
import { PickBar } from "./PickBar";
import { useSections } from "./sections";
import { TracePanel } from "./TracePanel";
import { above, foldersOf, type Line, sectionEnds, visibleLines } from "./tree";
import { usePicks } from "./usePicks";
import { usePins } from "./usePins";
import { useReachOf } from "./useReachOf";
import { useSearch } from "./useSearch";
import "./pages.css";

const USUAL_COLUMNS = ["template", "header", "title", "aside-end", "above-footer", "footer"];
/** More columns than these are too narrow to be read. */
const MOST_USUAL = 7;
const ORDERS = Object.entries(GROUPINGS) as [Grouping, string][];
/** Pages of which is asked at once how many a rule reaches. */
const MOST_ASKED = 5000;
const NO_TITLES: string[] = [];
const NO_COLUMNS: Shapes["TargetColumn"][] = [];
const NO_OTHERS: Shapes["OtherTarget"][] = [];

/** The page list: every page with what it gets, and why. */
export function PagesView() {
  const site = useSite();
  const lens = useLens();
  const { bySlug } = usePieces();
  const { get, set } = useAddress();
  const tree = useQuery(treeQuery(site.slug, site.inventory_version)).data;
  // Where slots are bound in the pages' own HTML, nothing can stand in others.
  const usual = site.bound.length ? site.bound.slice(0, MOST_USUAL) : USUAL_COLUMNS;
  const [columnNames, setColumnNames] = useLasting("columns", usual);
  // Only the columns in sight are sent; what needs all of them asks for them.
  const layout = useQuery(layoutQuery(site.slug, site.version, lens, columnNames.join()));
  const ends = useMemo(() => (tree ? sectionEnds(tree.depths) : []), [tree]);
  const folders = useMemo(() => (tree ? foldersOf(tree, ends) : undefined), [tree, ends]);
  const sections = useSections(tree, ends, folders);
  const opened = sections.open;
  const search = useSearch(site.slug);
  const [stated, setGrouping] = useAddressed<Grouping>(
    "by",
    useLasting<Grouping>("grouping", "tree"),
    "tree",
  );
  const grouping = stated in GROUPINGS ? stated : "tree";
  const [openGroups, setOpenGroups] = useKept<string[]>(`groups-${grouping}`, []);
  const nameOf = useCallback((slug: string) => bySlug.get(slug)?.name, [bySlug]);
  const groups = useGroups(grouping, tree?.titles ?? NO_TITLES, nameOf);
  const [ghosts, setGhosts] = useState<Ghosts | null>(null);
  const [reveal, setReveal] = useState<number | null>(null);
  const lines = useMemo(() => {
    if (!tree) return [];
    if (groups) return groupedLines(groups, new Set(openGroups), search.found);
    if (!ghosts) return visibleLines(tree, ends, opened, search.found, folders);
    // What a condition would add is shown also where its section is closed, or a search left it out.
    const ghostly = new Set(ghosts.keys());
    const seen = search.found && new Set([...search.found, ...ghostly]);
    return visibleLines(tree, ends, new Set([...opened, ...above(tree.depths, ghostly)]), seen, folders);
  }, [tree, ends, folders, opened, search.found, ghosts, groups, openGroups]);
  const picks = usePicks(tree, lines);
  const pins = usePins();
  const put = usePut();
  const newRule = useNewRule();
  const [pasted, setPasted] = useState<{ known: number; unknown: string[] } | null>(null);
  /** Addresses that are pasted into the search field pick their pages. */
  const paste = (event: ClipboardEvent) => {
    const paths = pastedPaths(event.clipboardData.getData("text"));
    if (!paths || !tree) return;
    event.preventDefault();
    const numbers = new Map(tree.paths.map((path, number) => [path, number]));
    const [known, unknown] = knownAndUnknown(paths, numbers);
    picks.add(known.map((path) => numbers.get(path) as number));
    setPasted({ known: known.length, unknown });
  };
  const grid = useRef<HTMLDivElement>(null);
  const queryInput = useRef<HTMLInputElement>(null);
  useCommand("Find pages", "/", () => queryInput.current?.focus());

  const columns = useMemo(() => {
    const known = new Map(layout.data?.columns.map((column) => [column.target, column]));
    return columnNames.flatMap((name) => known.get(name) ?? []);
  }, [layout.data, columnNames]);
  const [widths, setWidths] = useLasting<Widths>("widths", {});
  const path = get("path");
  const target = get("target");
  const marks = usePinMarks(tree, layout.data?.columns ?? NO_COLUMNS);
  /** The page that is looked at as a whole. */
  const shown = tree && path && !target ? tree.paths.indexOf(path) : -1;
  const toggle = ({ number, group, folder }: Line) => {
    if (group && folder === undefined) {
      const key = groupKey(group);
      setOpenGroups(
        openGroups.includes(key) ? openGroups.filter((one) => one !== key) : [...openGroups, key],
      );
      return;
    }
    sections.toggle(folder ?? number);
  };
  const allOpen = groups ? groups.every((group) => openGroups.includes(groupKey(group))) : sections.allOpen;
  const toggleAll = () => {
    if (groups) setOpenGroups(allOpen ? [] : groups.map(groupKey));
    else sections.setAll(!allOpen);
  };
  const close = () => {
    set({ path: null, target: null });
    grid.current?.focus();
  };
  return (
    <>
      <div className="work">
        <div className="bar" onPaste={paste}>
          <QueryField
            label="Find pages"
            placeholder="Type part of a title, or a condition such as type:article term:topic/food"
            value={search.text}
            onChange={search.setText}
            problem={search.problem}
            inputRef={queryInput}
            forSearch
          />
          <span className="mute" role="status">
            {tree &&
              `${search.found ? `${figure(search.found.size)} of ` : ""}${count(tree.paths.length, "page")}`}
          </span>
          <ColumnsMenu
            names={columnNames}
            others={layout.data?.others ?? NO_OTHERS}
            shown={search.found}
            onChange={setColumnNames}
          />
          <Legend />
          <KeptSearches text={search.text} onUse={search.setText} />
          {search.text.trim() !== "" && (
            <>
              {search.condition !== "" && search.found && isSome(search.found) && (
                <AddFound tree={tree} found={search.found} condition={search.condition} />
              )}
              <Button
                variant="outlined"
                disabled={!search.condition}
                title={search.condition ? undefined : "Waits for a condition without search words"}
                onClick={() => newRule({ name: "", condition: { include: search.condition }, actions: [] })}
              >
                Make a rule from this
              </Button>
            </>
          )}
        </div>
        {pasted && (
          <p className="note-box row" role="status">
            <span className="grow">
              Picked {count(pasted.known, "page")} by their addresses.
              {pasted.unknown.length > 0 && ` Not on this site: ${pasted.unknown.slice(0, 5).join(", ")}`}
              {pasted.unknown.length > 5 && ` and ${pasted.unknown.length - 5} more`}
            </span>
            <Button variant="text" onClick={() => setPasted(null)}>
              Close
            </Button>
          </p>
        )}
        {layout.isError && <p className="note-box bad">{layout.error.message}</p>}
        {tree?.paths.length === 0 && (
          <div className="column">
            <h2>No pages yet</h2>
            <p>
              Take the site's pages in first: a folder of HTML files, under{" "}
              <Link to={`/${site.slug}/site`}>Site</Link>.
            </p>
          </div>
        )}
        {(!tree || (tree.paths.length > 0 && !layout.data && !layout.isError)) && (
          <GridFrame columns={columnNames} />
        )}
        {tree && tree.paths.length > 0 && layout.data && (
          <Grid
            busy={layout.isPlaceholderData || search.pending}
            tree={tree}
            lines={lines}
            columns={columns}
            picked={picks.picked}
            ghosts={ghosts}
            reveal={reveal}
            head={
              <>
                <Chooser
                  label="How the list stands"
                  value={grouping}
                  options={ORDERS}
                  onChange={setGrouping}
                />
                <Button variant="text" onClick={toggleAll}>
                  {allOpen ? "Close all" : "Open all"}
                </Button>
              </>
            }
            chosen={{ path, target }}
            onToggle={toggle}
            onPick={picks.pick}
            onPickAll={picks.pickAll}
            onPickThese={picks.add}
            onOpen={(page) => set({ path: page, target: null })}
            marks={marks}
            marking={get("anyone") !== ""}
            widths={widths}
            onWidths={setWidths}
            focusOn={grid}
            onChoose={(page, chosen) => set({ path: page, target: chosen })}
            onPin={(page, chosen) => {
              set({ path: page, target: chosen });
              pins.setPinning(true);
            }}
          />
        )}
        {tree && lines.length === 0 && search.found && (
          <p className="column mute">No page is found by this.</p>
        )}
        {tree && picks.picked.size > 0 && (
          <PickBar
            key={picks.paths.join()}
            paths={picks.paths}
            numbers={picks.picked}
            onPut={put}
            onPin={(action) => pins.pinAll(picks.paths, action)}
            onDo={(meant, action) => newRule(ruleFor(meant, doingText(action), action))}
            onDrop={picks.drop}
            onGhosts={(one) => setGhosts(one && ghostsOf(one))}
            onReveal={setReveal}
          />
        )}
      </div>
      {tree && layout.data && shown >= 0 && (
        <PagePanel path={path} tree={tree} onChoose={(chosen) => set({ target: chosen })} onClose={close} />
      )}
      {path && target && (
        <TracePanel path={path} target={target} pins={pins} onClose={close}>
          {tree && layout.data && (
            <PickAlike path={path} target={target} tree={tree} onPick={picks.pickAll} />
          )}
        </TracePanel>
      )}
    </>
  );
}

/** Whether something was found, and not more than is asked about at once. */
const isSome = (found: Set<number>) => found.size > 0 && found.size <= MOST_ASKED;

interface AddFoundProps {
  tree: Tree | undefined;
  found: Set<number>;
  condition: string;
}

/** What a search finds given to a rule that is there: it opens with the condition beside its own. */
function AddFound({ tree, found, condition }: AddFoundProps) {
  const reachOf = useReachOf();
  return (
    <Opening text="Add to a rule" variant="outlined" about="Add what is found to a rule">
      {() => (
        <ChooseRule
          label="Rule to add them to"
          paths={[...found].map((number) => tree?.paths[number] as string)}
          adding
          onChoose={(row) => reachOf.widen(row, condition)}
        />
      )}
    </Opening>
  );
}

/** How pages stand to a condition that is being thought about. */
function ghostsOf(one: Shapes["SuggestionInfo"]): Ghosts {
  return new Map([
    ...one.added.map((number) => [number, "added"] as const),
    ...one.missed.map((number) => [number, "missed"] as const),
  ]);
}

/** From picked pages to a new rule in the editor. */
function usePut() {
  const { bySlug } = usePieces();
  const newRule = useNewRule();
  return (meant: Meant, slug: string) => {
    const piece = bySlug.get(slug);
    if (piece) newRule(ruleFor(meant, piece.name, actionFor(piece)));
  };
}
