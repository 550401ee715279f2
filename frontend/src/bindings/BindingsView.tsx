import Button from "@mui/material/Button";
import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { bindingsQuery, triedQuery } from "../api/bindingQueries";
import { answer, api, type Shapes } from "../api/client";
import { ConflictBox } from "../parts/ConflictBox";
import { useMessage } from "../parts/messages";
import { SaveBar } from "../parts/SaveBar";
import { useLinkTo, useSite } from "../parts/site";
import { useDebounced } from "../parts/useDebounced";
import { useDraft } from "../parts/useDraft";
import { count } from "../parts/words";
import { Weighed } from "../publish/Weighed";
import { BindingRow } from "./BindingRow";
import { Finds } from "./Finds";
import type { Binding } from "./fit";
import { placedQuery } from "./laidOut";
import { PlacePictures } from "./PlacePictures";
import { Proposals } from "./Proposals";
import "../pieces/pieces.css";
import "../places/places.css";
import "./bindings.css";

interface Declared {
  name: string;
  bindings: Binding[];
}

const NAME = "Where slots are";
const NEW: Binding = { slot: "", selector: "", how: "element", where: "" };

async function send(site: string, { bindings }: Declared, version: number) {
  const params = { path: { site }, header: { "If-Match": `"${version}"` } };
  const made = await answer(api.PUT("/api/sites/{site}/bindings", { params, body: { bindings } }));
  return { id: "bindings", version: made.version };
}

/** Where the slots of pages are in their own HTML: proposed, written, shown; and what stands there today. */
export function BindingsView() {
  const site = useSite();
  const known = useQuery(bindingsQuery(site.slug)).data;
  return known ? <Bindings known={known} /> : null;
}

function Bindings({ known }: { known: Shapes["BindingsInfo"] }) {
  const site = useSite();
  const linkTo = useLinkTo();
  const tell = useMessage();
  const [stated, setChosen] = useState<Binding | null>();
  const editing = useDraft<Declared>({
    kind: "bindings",
    id: "bindings",
    saved: { tree: { name: NAME, bindings: known.bindings }, version: known.version },
    blank: { name: NAME, bindings: [] },
    same: (a, b) => JSON.stringify(a.bindings) === JSON.stringify(b.bindings),
    send: (tree, version) => send(site.slug, tree, version),
  });
  const bindings = editing.tree.bindings;
  const set = (change: (bindings: Binding[]) => Binding[]) =>
    editing.edit((newest) => ({ ...newest, bindings: change(newest.bindings) }));
  const asked = useDebounced(bindings, 300);
  const whole = asked.length > 0 && asked.every((one) => one.slot && one.selector);
  const tried = useQuery({
    ...triedQuery(site.slug, asked),
    enabled: editing.changed && whole,
    placeholderData: keepPreviousData,
  });
  const proposed = useQuery({
    ...placedQuery(useQueryClient(), site.slug, site.inventory_version),
    enabled: known.originals > 0 && known.bindings.length === 0,
  }).data?.proposed[0]?.binding;
  // Until somebody says which, the first place is shown: of those that are bound, else of those that are proposed.
  const first = known.bindings[0] ?? proposed;
  const asFirst = bindings.find((one) => JSON.stringify(one) === JSON.stringify(first)) ?? first;
  const chosen = stated === undefined ? asFirst : stated;
  const fits = editing.changed ? (tried.data?.fits ?? []) : known.fits;
  const saved = () => tell("Saved where slots are. It is in the draft, not live yet.");
  return (
    <>
      <div className="column">
        <h2>{NAME}</h2>
        {known.originals === 0 ? (
          <p className="note-box">
            No page has HTML of its own yet. <Link to={linkTo("site")}>Take the site in from its folder</Link>
            : each page keeps its file, and its slots are bound to elements in it.
          </p>
        ) : (
          <p className="mute">
            {count(known.originals, "page")} {known.originals === 1 ? "has" : "have"} HTML of{" "}
            {known.originals === 1 ? "its" : "their"} own. A slot that is bound takes the place of an element
            there; where nothing is decided about it, the page stays as it is, byte for byte.
          </p>
        )}
        <ConflictBox editing={editing} what="bindings" onSaved={saved} />
        <section aria-label="Bindings" className="bindings">
          {bindings.map((binding, place) => (
            <BindingRow
              // biome-ignore lint/suspicious/noArrayIndexKey: a binding is its place while it is typed
              key={place}
              binding={binding}
              fit={fits[place]}
              problem={editing.problemUnder(`/bindings/${place}`)?.message}
              shown={chosen === binding}
              onShow={() => setChosen(binding)}
              onChange={(next) => set((list) => list.map((one, at) => (at === place ? next : one)))}
              onRemove={() => set((list) => list.filter((_, at) => at !== place))}
            />
          ))}
          <button type="button" className="token add" onClick={() => set((list) => [...list, NEW])}>
            + binding
          </button>
          {editing.changed && tried.data && tried.data.asked < tried.data.originals && (
            <span className="mute" role="status">
              {" "}
              Looked at on {count(tried.data.asked, "page")} of all sections; saving looks at all.
            </span>
          )}
          {editing.changed && tried.isError && (
            <p className="field-error" role="alert">
              {tried.error.message}
            </p>
          )}
        </section>
        {known.originals > 0 && (
          <Proposals
            bindings={bindings}
            onShow={setChosen}
            onAdd={(added) => set((list) => [...list, ...added])}
          />
        )}
        {known.bindings.length > 0 && <Finds bindings={known.bindings} changed={editing.changed} />}
        <SaveBar
          editing={editing}
          what="bindings"
          onSave={async () => (await editing.save()) && saved()}
          onDrop={editing.drop}
        >
          <Weighed editing={editing} to="bindings" body={{ bindings }} />
        </SaveBar>
      </div>
      <aside className="side wide-side" aria-label="Pictures of the place">
        {chosen ? (
          <PlacePictures
            binding={chosen}
            fit={fits[bindings.indexOf(chosen)]}
            onClose={() => setChosen(null)}
          />
        ) : (
          <p className="mute">Choose “Show” at a place, and it is outlined here on three pages.</p>
        )}
        <Button component={Link} to={linkTo("site")} variant="text">
          Back to the site
        </Button>
      </aside>
    </>
  );
}
