import Button from "@mui/material/Button";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { useNavigate } from "react-router";
import { Problem } from "../api/client";
import { layoutQuery, searchQuery, treeQuery } from "../api/queries";
import { QueryField } from "../parts/QueryField";
import { useAddress, useLens, useLinkTo, usePieces, useSite } from "../parts/site";
import { useDebounced } from "../parts/useDebounced";
import { targetName } from "../parts/words";
import { storeNewRule } from "../rules/drafts";
import { Grid } from "./Grid";
import { ruleFor } from "./newRule";
import { PickBar } from "./PickBar";
import { TracePanel } from "./TracePanel";
import { openAtFirst, sectionEnds, visibleLines } from "./tree";
import { usePins } from "./usePins";

const USUAL_COLUMNS = ["template", "header", "title", "aside-end", "above-footer", "footer"];
/** Sections of at most so many pages stand open at first. */
const OPEN_BELOW = 12;
const NO_PAGES: number[] = [];

/** The page list: every page with what it gets, and why. */
export function PagesView() {
  const site = useSite();
  const lens = useLens();
  const { get, set } = useAddress();
  const tree = useQuery(treeQuery(site.slug, site.inventory_version)).data;
  const layout = useQuery(layoutQuery(site.slug, site.version, lens));
  const [columnNames, setColumnNames] = useState(USUAL_COLUMNS);
  const ends = useMemo(() => (tree ? sectionEnds(tree.depths) : []), [tree]);
  const [address] = useState(get("path"));
  const [open, setOpen] = useState<Set<number> | null>(null);
  const opened = useMemo(
    () => open ?? (tree ? openAtFirst(tree, ends, OPEN_BELOW, address) : new Set<number>()),
    [open, tree, ends, address],
  );
  const search = useSearch(site.slug);
  const lines = useMemo(
    () => (tree ? visibleLines(tree, ends, opened, search.found) : []),
    [tree, ends, opened, search.found],
  );
  const picks = usePicks(lines.map((line) => line.number));
  const pins = usePins();
  const put = usePut();
  const queryInput = useRef<HTMLInputElement>(null);
  useHotkeys("/", () => queryInput.current?.focus(), { preventDefault: true, useKey: true });
  const navigate = useNavigate();
  const linkTo = useLinkTo();

  const columns = (layout.data?.columns ?? []).filter((column) => columnNames.includes(column.target));
  const path = get("path");
  const target = get("target");
  const toggle = (number: number) => {
    const next = new Set(opened);
    if (!next.delete(number)) next.add(number);
    setOpen(next);
  };
  const allOpen = tree && ends.every((end, number) => end - number === 1 || opened.has(number));
  return (
    <>
      <div className="work">
        <div className="bar">
          <QueryField
            label="Find pages"
            placeholder="Type part of a title, or a condition such as type:article term:topic/food"
            value={search.text}
            onChange={search.setText}
            problem={search.problem}
            inputRef={queryInput}
          />
          <span className="mute" role="status">
            {tree && `${search.found ? `${search.found.size} of ` : ""}${tree.paths.length} pages`}
          </span>
          <Button
            variant="text"
            onClick={() => setOpen(allOpen ? new Set() : new Set(ends.map((_, number) => number)))}
          >
            {allOpen ? "Close all" : "Open all"}
          </Button>
          <ColumnsMenu names={columnNames} onChange={setColumnNames} />
          <Button
            variant="outlined"
            disabled={!search.condition}
            title={search.condition ? undefined : "Waits for a condition without search words"}
            onClick={() => {
              storeNewRule(site.slug, { name: "", condition: { include: search.condition }, actions: [] });
              navigate(linkTo("rules/new"));
            }}
          >
            Make a rule from this
          </Button>
        </div>
        {layout.isError && <p className="note-box bad">{layout.error.message}</p>}
        {tree?.paths.length === 0 && (
          <div className="column">
            <h2>No pages yet</h2>
            <p>Take the site's pages in first: a folder of HTML files, under Site.</p>
          </div>
        )}
        {tree && tree.paths.length > 0 && layout.data && (
          <Grid
            tree={tree}
            lines={lines}
            columns={columns}
            picked={picks.picked}
            chosen={{ path, target }}
            onToggle={toggle}
            onPick={picks.pick}
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
            paths={[...picks.picked].map((number) => tree.paths[number] as string)}
            onPut={put}
            onDrop={picks.drop}
          />
        )}
      </div>
      {path && target && (
        <TracePanel
          path={path}
          target={target}
          pinning={pins.pinning}
          onPinning={pins.setPinning}
          onPin={(piece) => pins.pin(path, target, piece)}
          onClose={() => set({ path: null, target: null })}
        />
      )}
    </>
  );
}

/** The search field: its text lives in the address; what it finds comes from the server. */
function useSearch(site: string) {
  const { get, set } = useAddress();
  const [text, setText] = useState(get("q"));
  const rested = useDebounced(text, 60);
  useEffect(() => {
    set({ q: rested.trim() || null });
  }, [rested, set]);
  const asked = rested.trim();
  const result = useQuery({ ...searchQuery(site, asked), enabled: asked !== "" });
  const problem = asked && result.error instanceof Problem ? result.error.at("/query") : undefined;
  const numbers = asked && result.data && !problem ? result.data.numbers : null;
  const found = useMemo(() => (numbers ? new Set(numbers.length ? numbers : NO_PAGES) : null), [numbers]);
  const condition = asked && result.data && !problem ? result.data.condition : "";
  const named = problem && {
    message: problem.message.replace(/^column \d+: /, ""),
    hint: "",
    column: problem.column,
    length: problem.length,
  };
  return { text, setText, found, problem: named, condition };
}

/** Picked rows; with Shift everything from the row picked last. */
function usePicks(visible: number[]) {
  const [picked, setPicked] = useState<Set<number>>(new Set());
  const last = useRef<number | null>(null);
  const pick = (number: number, upTo: boolean) => {
    const next = new Set(picked);
    const from = last.current === null ? -1 : visible.indexOf(last.current);
    const to = visible.indexOf(number);
    if (upTo && from >= 0 && to >= 0) {
      for (const between of visible.slice(Math.min(from, to), Math.max(from, to) + 1)) next.add(between);
    } else if (!next.delete(number)) {
      next.add(number);
    }
    last.current = number;
    setPicked(next);
  };
  return { picked, pick, drop: () => setPicked(new Set()) };
}

/** From picked pages to a new rule in the editor. */
function usePut() {
  const site = useSite();
  const { bySlug } = usePieces();
  const navigate = useNavigate();
  const linkTo = useLinkTo();
  return (include: string, exclude: string, slug: string) => {
    const piece = bySlug.get(slug);
    if (!piece) return;
    storeNewRule(site.slug, ruleFor(include, exclude, piece));
    navigate(linkTo("rules/new"));
  };
}

function ColumnsMenu({ names, onChange }: { names: string[]; onChange: (names: string[]) => void }) {
  const site = useSite();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const all = ["template", ...site.slots];
  const toggle = (name: string) =>
    onChange(
      names.includes(name)
        ? names.filter((known) => known !== name)
        : all.filter((one) => one === name || names.includes(one)),
    );
  return (
    <>
      <Button variant="text" aria-haspopup="menu" onClick={(event) => setAnchor(event.currentTarget)}>
        Columns
      </Button>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {all.map((name) => (
          <MenuItem
            dense
            key={name}
            role="menuitemcheckbox"
            aria-checked={names.includes(name)}
            onClick={() => toggle(name)}
          >
            <input
              type="checkbox"
              readOnly
              tabIndex={-1}
              checked={names.includes(name)}
              aria-hidden="true"
              style={{ marginRight: 8 }}
            />
            {targetName(name)}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
