import Button from "@mui/material/Button";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import Popover from "@mui/material/Popover";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import type { Shapes } from "../api/client";
import { suggestionsQuery } from "../api/ruleQueries";
import { ChoosePiece } from "../parts/ChoosePiece";
import { SearchList } from "../parts/SearchList";
import { useAllColumns, usePieces, useSite } from "../parts/site";
import { count, KIND_ORDER, targetName } from "../parts/words";
import { ChooseRule } from "./ChooseRule";
import { actionFor, type Meant } from "./newRule";
import { standing } from "./standing";
import { useReachOf } from "./useReachOf";
import "./picking.css";

type Suggestion = Shapes["SuggestionInfo"];
type Action = Shapes["ActionTree"];

interface Props {
  paths: string[];
  numbers: Set<number>;
  /** Make a rule that puts a piece on the pages that are meant. */
  onPut: (meant: Meant, piece: string) => void;
  /** Pin a piece on each of the picked pages alone. */
  onPin: (action: Action) => void;
  /** Make a rule that does something else there. */
  onDo: (meant: Meant, action: Action) => void;
  onDrop: () => void;
  /** Show what a condition would add to the picked pages, and which of them it would miss. */
  onGhosts: (suggestion: Suggestion | null) => void;
  /** Bring a page into sight. */
  onReveal: (page: number | null) => void;
}

/** What can be done with picked pages, beside putting a piece there. */
const WAYS = {
  put: (pages: string) => `Put a piece on ${pages}`,
  empty: (pages: string) => `Leave a place empty on ${pages}`,
  set: (pages: string) => `Set a setting on ${pages}`,
  pin: (pages: string) => `Pin a piece on each of ${pages}`,
  add: (pages: string) => `Add ${pages} to a rule`,
  leaveOut: (pages: string) => `Leave ${pages} out of a rule`,
} as const;
type Way = keyof typeof WAYS;
/** The ways that are about the picked pages themselves, whatever else a condition would reach. */
const OF_PICKED: Way[] = ["add", "leaveOut", "pin"];
/** Pages on which a choice is pinned at once; a rule is the better way for more. */
const MOST_PINNED = 100;

/** What the picked pages have in common, and the way from there to a rule. What is picked is what is meant. */
export function PickBar({ paths, numbers, onPut, onPin, onDo, onDrop, onGhosts, onReveal }: Props) {
  const site = useSite();
  const { bySlug } = usePieces();
  const suggestions = useQuery(suggestionsQuery(site.slug, paths));
  const [wider, setWider] = useState("");
  const [doing, setDoing] = useState<Way | null>(null);
  const [more, setMore] = useState<HTMLElement | null>(null);
  const [bar, setBar] = useState<HTMLElement | null>(null);
  const reachOf = useReachOf();
  const found = suggestions.data ?? [];
  const exact = found.find((one) => !one.lasting);
  const offered = found.filter((one) => one.lasting);
  const chosen = offered.find((one) => conditionText(one) === wider) ?? exact;
  const common = offered.find((one) => !one.adds && !one.misses && !one.exclude);
  const pages = chosen ? paths.length + chosen.adds - chosen.misses : paths.length;
  const meant = chosen && {
    include: chosen.include,
    exclude: chosen.exclude,
    where: where(chosen, paths),
  };
  const show = (one: Suggestion | undefined) => onGhosts(one?.lasting ? one : null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what was shown goes with the bar
  useEffect(() => () => onGhosts(null), []);
  const option = (one: Suggestion, text: string, about: string) => (
    <button
      type="button"
      key={text}
      className={one.lasting ? "pick-option" : "pick-option whole"}
      aria-pressed={one === chosen}
      title={[conditionText(one), about, one.adds ? examples(one) : ""].filter(Boolean).join("\n")}
      onMouseEnter={() => show(one)}
      onFocus={() => show(one)}
      onMouseLeave={() => show(chosen)}
      onBlur={() => show(chosen)}
      onClick={() => {
        setWider(one.lasting ? conditionText(one) : "");
        show(one);
        onReveal(one.lasting ? (one.added[0] ?? one.missed[0] ?? null) : null);
      }}
    >
      <span className="clip">{text}</span>
      {about && <small>{about}</small>}
    </button>
  );
  const reached = count(pages, "page");
  const picked = count(paths.length, "page");
  const open = (way: Way) => {
    setMore(null);
    setDoing(way);
  };
  const close = () => setDoing(null);
  const waits = chosen ? undefined : "Waits for what these pages have in common";
  const toRule = (row: Shapes["RuleRow"], moved: number) => {
    close();
    if (doing === "leaveOut") reachOf.leaveOut(row, paths, moved);
    else if (chosen?.lasting && !chosen.exclude) reachOf.widen(row, chosen.include);
    else reachOf.add(row, paths, moved);
  };
  return (
    <section className="pick-bar" aria-label="Picked pages" ref={setBar}>
      <div className="pick-said">
        <b>{picked} picked</b>
        {common && (
          <small>
            {paths.length === 1 ? "the only page" : `all ${picked}`} {common.words}
          </small>
        )}
      </div>
      <fieldset className="pick-options" aria-label="Which pages are meant">
        {exact && option(exact, exactly(paths.length), "")}
        {offered.map((one) => option(one, one.words, describe(one)))}
      </fieldset>
      {suggestions.isError && <span role="alert">{suggestions.error.message}</span>}
      <div className="pick-doing">
        <Button variant="text" color="inherit" onClick={onDrop}>
          Unpick
        </Button>
        <Button
          variant="text"
          color="inherit"
          aria-haspopup="menu"
          disabled={!chosen}
          title={waits}
          onClick={(event) => setMore(event.currentTarget)}
        >
          More
        </Button>
        <Menu open={more !== null} anchorEl={more} onClose={() => setMore(null)}>
          {(["empty", "set", "pin", "leaveOut"] as const).map((way) => (
            <MenuItem
              dense
              key={way}
              disabled={way === "pin" && paths.length > MOST_PINNED}
              onClick={() => open(way)}
            >
              {WAYS[way](OF_PICKED.includes(way) ? picked : reached)} …
            </MenuItem>
          ))}
        </Menu>
        <Button
          variant="outlined"
          color="inherit"
          aria-haspopup="dialog"
          disabled={!chosen}
          title={waits}
          onClick={() => open("add")}
        >
          Add to a rule
        </Button>
        <Button
          variant="contained"
          className="amber"
          aria-haspopup="dialog"
          disabled={!chosen}
          title={waits}
          onClick={() => open("put")}
        >
          Put a piece on {reached}
        </Button>
      </div>
      <Popover
        open={doing !== null}
        anchorEl={bar}
        onClose={close}
        anchorOrigin={{ vertical: "top", horizontal: "right" }}
        transformOrigin={{ vertical: "bottom", horizontal: "right" }}
      >
        {doing && meant && (
          <div
            className="popover"
            role="dialog"
            aria-label={WAYS[doing](OF_PICKED.includes(doing) ? picked : reached)}
          >
            {doing === "put" && (
              <ChoosePiece
                kinds={KIND_ORDER}
                label="Piece to put on these pages"
                onChoose={(piece) => onPut(meant, piece)}
              />
            )}
            {doing === "pin" && (
              <>
                <p className="mute">A choice of each page's own, which stays when rules change.</p>
                <ChoosePiece
                  kinds={KIND_ORDER}
                  label="Piece to pin on these pages"
                  onChoose={(slug) => {
                    const piece = bySlug.get(slug);
                    close();
                    if (piece) onPin(actionFor(piece));
                  }}
                />
              </>
            )}
            {doing === "empty" && (
              <ChooseTarget
                label="Place to leave empty"
                targets={site.slots}
                numbers={numbers}
                onChoose={(slot) => onDo(meant, { do: "empty", slot })}
              />
            )}
            {doing === "set" && (
              <ChooseTarget
                label="Setting to set"
                targets={site.settings.map((setting) => `setting:${setting.name}`)}
                numbers={numbers}
                onChoose={(target) => {
                  const setting = site.settings.find((one) => `setting:${one.name}` === target);
                  if (setting) onDo(meant, { do: "set", setting: setting.name, value: setting.default });
                }}
              />
            )}
            {(doing === "add" || doing === "leaveOut") && (
              <>
                <p className="mute">
                  {doing === "leaveOut"
                    ? `Leaves the ${picked} out of the rule that is chosen.`
                    : chosen?.lasting && !chosen.exclude
                      ? `Opens the rule with pages ${chosen.words} added, to be saved there.`
                      : `Adds the ${picked} to the rule that is chosen.`}
                </p>
                <ChooseRule
                  label={doing === "add" ? "Rule to add them to" : "Rule to leave them out of"}
                  paths={paths}
                  adding={doing === "add"}
                  onChoose={toRule}
                />
              </>
            )}
          </div>
        )}
      </Popover>
    </section>
  );
}

interface TargetProps {
  label: string;
  targets: string[];
  numbers: Set<number>;
  onChoose: (target: string) => void;
}

/** A place or a setting, each with what the picked pages have there now, through the lens. */
function ChooseTarget({ label, targets, numbers, onChoose }: TargetProps) {
  const { bySlug } = usePieces();
  const columns = useAllColumns();
  const [text, setText] = useState("");
  const now = (target: string) => {
    const column = columns.find((one) => one.target === target);
    return column ? standing(column, numbers, (slug) => bySlug.get(slug)?.name) : "";
  };
  return (
    <SearchList
      label={label}
      placeholder="Type part of a name"
      options={targets.filter((target) => targetName(target).toLowerCase().includes(text.toLowerCase()))}
      keyOf={(target) => target}
      nameOf={targetName}
      text={text}
      onText={setText}
      onChoose={onChoose}
      nothing="Nothing is called so."
    >
      {(target) => {
        const there = now(target);
        return (
          <>
            <span style={{ whiteSpace: "nowrap" }}>{targetName(target)}</span>
            <span className="count clip" title={there}>
              now: {there}
            </span>
          </>
        );
      }}
    </SearchList>
  );
}

const exactly = (number: number) => (number === 1 ? "exactly this page" : `exactly these ${number} pages`);

const conditionText = ({ include, exclude }: Suggestion) =>
  exclude ? `${include} without ${exclude}` : include;

/** What a condition comes to, against what is picked. */
function describe({ adds, misses }: Suggestion): string {
  if (misses) return `− ${count(misses, "page")}${adds ? `, + ${adds}` : ""}`;
  return adds ? `+ ${count(adds, "page")}` : "the same, and later ones";
}

const examples = ({ adds, examples: named }: Suggestion) =>
  `adds ${named
    .slice(0, 3)
    .map((page) => page.title)
    .join(", ")}${adds > 3 ? " …" : ""}`;

/** The pages in a few words, for the name of a rule. */
function where(chosen: Suggestion, paths: string[]): string {
  if (chosen.lasting) return `pages ${chosen.words}`;
  return paths.length > 2 ? `${paths.length} pages` : paths.join(" and ");
}
