import Button from "@mui/material/Button";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { answer, api, type Shapes } from "../api/client";
import { proposedPlacesQuery, recipeQuery, triedRecipeQuery } from "../api/recipeQueries";
import { ConflictBox } from "../parts/ConflictBox";
import { LabelledField } from "../parts/controls";
import { useMessage } from "../parts/messages";
import { SaveBar } from "../parts/SaveBar";
import { useLinkTo, useSite } from "../parts/site";
import { useDebounced } from "../parts/useDebounced";
import { useDraft } from "../parts/useDraft";
import { count } from "../parts/words";
import { Weighed } from "../publish/Weighed";
import { FactSection } from "./FactSection";
import { bare, isWhole, type Line, lines, withLine } from "./places";
import { Tried } from "./Tried";
import "../pieces/pieces.css";
import "../places/places.css";
import "./recipe.css";

interface Declared {
  name: string;
  recipe: Line[];
}

const NAME = "How facts are read";
/** The pages of a site up to which all of them are read anew unasked, to tell what saving would change. */
const READ_UNASKED = 300;
const OWN_FACT = /^(?:terms|fields)\/[a-z0-9]+(?:-[a-z0-9]+)*$/;

async function send(site: string, { recipe }: Declared, version: number) {
  const params = { path: { site }, header: { "If-Match": `"${version}"` } };
  const made = await answer(api.PUT("/api/sites/{site}/recipe", { params, body: { recipe } }));
  return { id: "recipe", version: made.version };
}

/** Where the facts of pages stand in their files: as it comes, as the pages propose, as the site says. */
export function RecipeView() {
  const site = useSite();
  const known = useQuery(recipeQuery(site.slug)).data;
  return known ? <Recipe known={known} /> : null;
}

function Recipe({ known }: { known: Shapes["RecipeInfo"] }) {
  const site = useSite();
  const linkTo = useLinkTo();
  const tell = useMessage();
  const [chosen, setChosen] = useState("title");
  const editing = useDraft<Declared>({
    kind: "recipe",
    id: "recipe",
    saved: { tree: { name: NAME, recipe: known.recipe }, version: known.version },
    blank: { name: NAME, recipe: [] },
    same: (a, b) => JSON.stringify(plain(a.recipe)) === JSON.stringify(plain(b.recipe)),
    send: (tree, version) => send(site.slug, tree, version),
  });
  const own = editing.tree.recipe;
  const shown = lines(known.standard, own);
  const set = (line: Line) =>
    editing.edit((newest) => ({ ...newest, recipe: withLine(known.standard, newest.recipe, line) }));
  const asked = useDebounced(own, 300);
  const has = known.originals > 0;
  const tried = useQuery({
    ...triedRecipeQuery(site.slug, asked),
    enabled: has && asked.every(isWhole),
    placeholderData: keepPreviousData,
  });
  const found = useQuery({ ...proposedPlacesQuery(site.slug, site.inventory_version), enabled: has });
  const saved = () =>
    tell("Saved how facts are read; all pages were read anew. It is in the draft, not live yet.");
  return (
    <>
      <div className="column">
        <h2>{NAME}</h2>
        {has ? (
          <p className="mute">
            Each fact is looked for in places of a page’s file, in turn: the first that has something tells
            it. Saving reads all {count(known.originals, "page")} anew; what was corrected by hand stays.
          </p>
        ) : (
          <p className="note-box">
            No page has a file of its own yet.{" "}
            <Link to={linkTo("site")}>Take the site in from its folder</Link>: its facts are read out of the
            files.
          </p>
        )}
        <ConflictBox editing={editing} what="recipe" onSaved={saved} />
        {tried.isError && (
          <p className="field-error" role="alert">
            {tried.error.message}
          </p>
        )}
        <p className="mute" role="status">
          {has && found.isPending && "Looking where facts stand on the pages …"}
        </p>
        {shown.map((line) => (
          <FactSection
            key={line.fact}
            line={line}
            own={own.some((one) => one.fact === line.fact)}
            told={known.told[line.fact] ?? 0}
            pages={known.originals}
            chosen={chosen === line.fact}
            tells={tells(tried.data, line)}
            proposed={(found.data?.proposed ?? []).filter((one) => one.fact === line.fact)}
            asked={found.data?.asked ?? 0}
            problem={(place) =>
              editing.problemUnder(
                `/recipe/${own.findIndex((one) => one.fact === line.fact)}/places/${place}`,
              )?.message
            }
            onChoose={() => setChosen(line.fact)}
            onChange={set}
            onReset={() =>
              editing.edit((newest) => ({
                ...newest,
                recipe: newest.recipe.filter((one) => one.fact !== line.fact),
              }))
            }
          />
        ))}
        <AnotherFact
          known={shown.map((line) => line.fact)}
          onAdd={(fact) => {
            setChosen(fact);
            set({ fact, places: [{ at: "element", of: "" }] });
          }}
        />
        <SaveBar
          editing={editing}
          what="recipe"
          onSave={async () => (await editing.save()) && saved()}
          onDrop={editing.drop}
        >
          <Weighed editing={editing} to="recipe" body={{ recipe: own }} byItself={READ_UNASKED} />
        </SaveBar>
      </div>
      <aside className="side wide-side" aria-label="What twenty pages come to">
        {has && <Tried fact={chosen} tried={tried.data} busy={tried.isFetching || asked !== own} />}
        <Button component={Link} to={linkTo("site")} variant="text">
          Back to the site
        </Button>
      </aside>
    </>
  );
}

/** A recipe without what says nothing. */
const plain = (recipe: Line[]) => recipe.map((line) => ({ ...line, places: line.places.map(bare) }));

/** On how many pages each place of a line tells the fact; nothing where that is not known yet. */
function tells(tried: Shapes["TriedRecipe"] | undefined, line: Line): number[] | undefined {
  if (!tried) return undefined;
  const by = tried.pages.map((page) => page.facts.find((one) => one.fact === line.fact)?.place ?? -1);
  return line.places.map((_, number) => by.filter((place) => place === number).length);
}

/** A taxonomy or a free field that a site's pages tell of besides. */
function AnotherFact({ known, onAdd }: { known: string[]; onAdd: (fact: string) => void }) {
  const [text, setText] = useState("");
  const whole = OWN_FACT.test(text) && !known.includes(text);
  return (
    <form
      className="row another-fact"
      onSubmit={(event) => {
        event.preventDefault();
        if (whole) {
          onAdd(text);
          setText("");
        }
      }}
    >
      <LabelledField
        mono
        label="Another fact"
        placeholder="fields/price or terms/season"
        value={text}
        onChange={setText}
      />
      <Button
        type="submit"
        variant="outlined"
        disabled={!whole}
        title={whole ? "" : "Name a fact that is not here yet, as fields/price or terms/season"}
      >
        Add fact
      </Button>
    </form>
  );
}
