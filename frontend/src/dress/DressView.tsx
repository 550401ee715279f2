import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { answer, api, type Shapes } from "../api/client";
import { dressedQuery, dressesQuery, itemTypesQuery } from "../api/queries";
import { ConflictBox } from "../parts/ConflictBox";
import { Segments } from "../parts/controls";
import { Frame } from "../parts/Frame";
import { useMessage } from "../parts/messages";
import { PageFinder } from "../parts/PageFinder";
import { SaveBar } from "../parts/SaveBar";
import { useLens, useLinkTo, useSite } from "../parts/site";
import { useDebounced } from "../parts/useDebounced";
import { useDraft } from "../parts/useDraft";
import { count } from "../parts/words";
import { Weighed } from "../publish/Weighed";
import { slugOf } from "../site/menuTree";
import { DressFields } from "./DressFields";
import { useWorn } from "./useWorn";
import "./dress.css";
import "../pieces/pieces.css";

export type Dress = Shapes["DressTree"];
type Form = "light" | "dark";

interface Declared {
  name: string;
  items: Dress[];
}
const NAME = "Dresses";

async function sendDresses(site: string, { items }: Declared, version: number) {
  const params = { path: { site }, header: { "If-Match": `"${version}"` } };
  const made = await answer(api.PUT("/api/sites/{site}/dresses", { params, body: { items } }));
  return { id: "declared", version: made.version };
}

/** The dresses of the site: palette, fonts and measures, beside a real page that wears them. */
export function DressView() {
  const site = useSite();
  const declared = useQuery(dressesQuery(site.slug)).data;
  return declared ? <DressesForm declared={declared} /> : null;
}

function DressesForm({ declared }: { declared: Shapes["DressesInfo"] }) {
  const site = useSite();
  const tell = useMessage();
  const linkTo = useLinkTo();
  const parts = useQuery(itemTypesQuery).data?.dress;
  const editing = useDraft<Declared>({
    kind: "dresses",
    id: "declared",
    saved: { tree: { name: NAME, items: declared.items }, version: declared.version },
    blank: { name: NAME, items: [] },
    same: (a, b) => JSON.stringify(a.items) === JSON.stringify(b.items),
    send: (tree, version) => sendDresses(site.slug, tree, version),
  });
  const { items } = editing.tree;
  const [place, setPlace] = useState(0);
  const at = Math.min(place, items.length - 1);
  const dress = items[at];
  const [form, setForm] = useState<Form>("light");
  const worn = useWorn(items);
  const [asked, setPath] = useState("");
  // Until another is asked for, a page that wears it.
  const path = asked || (dress && worn(dress.slug)?.[0]) || "/";
  const saved = () => tell("Saved the dresses. They are in the draft, not live yet.");
  const setItems = (change: (items: Dress[]) => Dress[]) =>
    editing.edit((newest) => ({ ...newest, items: change(newest.items) }));
  const isKnown = (slug: string) => declared.items.some((one) => one.slug === slug);
  const set = (next: Dress) => {
    // A dress is known by its slug once it is saved; until then that follows its name.
    const slug = isKnown(next.slug) ? next.slug : slugOf(next.name ?? "") || next.slug;
    setItems((all) => all.map((one, here) => (here === at ? { ...next, slug } : one)));
  };
  const choose = (next: number) => {
    setPlace(next);
    setPath("");
  };
  const add = () => {
    const from = dress ?? { colours: {} };
    setPlace(items.length);
    setItems((all) => [
      ...all,
      { ...from, slug: `dress-${all.length + 1}`, name: `Dress ${all.length + 1}` },
    ]);
  };
  const move = (by: number) => {
    setItems((all) => {
      const next = [...all];
      const [one] = next.splice(at, 1);
      if (one) next.splice(at + by, 0, one);
      return next;
    });
    setPlace(at + by);
  };
  return (
    <>
      <div className="editor piece-editor dress-editor">
        <div className="row">
          <Link to={linkTo("site")}>Site</Link>
          <span className="mute">dress</span>
        </div>
        <h2>What the site wears</h2>
        <p className="mute">
          Pages wear the first. Another one is chosen by rules and pins, with the page setting{" "}
          <span className="mono">dress</span>.
        </p>
        <ul className="dress-list" aria-label={NAME}>
          {items.map((one, here) => (
            <li key={one.slug}>
              <button type="button" aria-pressed={here === at} onClick={() => choose(here)}>
                <Swatches dress={one} usual={parts?.colours ?? {}} />
                <b>{one.name || "without a name"}</b>
                <span className="mute">{wornWords(worn(one.slug))}</span>
              </button>
            </li>
          ))}
        </ul>
        <button type="button" className="token add" onClick={add}>
          {dress ? `+ dress like ${dress.name}` : "+ dress"}
        </button>
        <ConflictBox editing={editing} what="dresses" onSaved={saved} />
        {dress && parts && (
          <DressFields
            key={at}
            dress={dress}
            parts={parts}
            form={form}
            problem={(pointer) => editing.problemUnder(`/dresses/${at}${pointer}`)?.message}
            onForm={setForm}
            onChange={set}
            onMove={(by) => move(by)}
            isFirst={at === 0}
            isLast={at === items.length - 1}
            onRemove={() => setItems((all) => all.filter((_, here) => here !== at))}
          />
        )}
        <SaveBar
          editing={editing}
          what="dresses"
          onSave={async () => (await editing.save()) && saved()}
          onDrop={editing.drop}
        >
          <Weighed editing={editing} to="dresses" body={{ items }} />
        </SaveBar>
      </div>
      <div className="column grow">
        <div className="row as-it-looks">
          <h2>A page in it</h2>
          <span className="grow" />
          <Segments
            label="Form"
            value={form}
            options={[
              ["light", "Light"],
              ["dark", "Dark"],
            ]}
            onChange={setForm}
          />
          <PageFinder path={path} onChoose={setPath} />
        </div>
        {dress ? <Worn dress={dress} path={path} form={form} /> : <p className="mute">No dress yet.</p>}
      </div>
    </>
  );
}

const wornWords = (paths: string[] | undefined) =>
  paths && `on ${paths.length ? count(paths.length, "page") : "no page"} through this lens`;

/** A real page in a dress as it is edited, at desktop and phone width. */
function Worn({ dress, path, form }: { dress: Dress; path: string; form: Form }) {
  const site = useSite();
  const lens = useLens();
  const shown = useQuery(dressedQuery(site.slug, useDebounced(dress, 120), path, form, lens));
  const html = shown.data?.html ?? "";
  const hasDark = Object.keys(dress.dark ?? {}).length > 0;
  return (
    <>
      {shown.isError && <p className="note-box">Waits until this is mended: {shown.error.message}</p>}
      {form === "dark" && !hasDark && (
        <p className="note-box">This dress has no dark form: devices that ask for dark pages get this one.</p>
      )}
      <div className="worn">
        <figure>
          <figcaption>Desktop, 1280 px</figcaption>
          <div className="drawn-width">
            <Frame html={html} title={`${dress.name}, desktop`} width={1280} height={1500} />
          </div>
        </figure>
        <figure>
          <figcaption>Phone, 390 px</figcaption>
          <div className="drawn-width">
            <Frame html={html} title={`${dress.name}, phone`} width={390} height={1250} />
          </div>
        </figure>
      </div>
    </>
  );
}

/** The colours of a dress, small. */
function Swatches({ dress, usual }: { dress: Dress; usual: Record<string, string> }) {
  return (
    <span className="dress-swatches" aria-hidden="true">
      {Object.keys(usual).map((name) => (
        <i key={name} style={{ background: dress.colours?.[name] ?? usual[name] }} />
      ))}
    </span>
  );
}
