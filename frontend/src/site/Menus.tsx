import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { answer, api, type Shapes } from "../api/client";
import { menusQuery } from "../api/queries";
import { ConflictBox } from "../parts/ConflictBox";
import { LabelledField } from "../parts/controls";
import { useMessage } from "../parts/messages";
import { PageFinder } from "../parts/PageFinder";
import { SaveBar } from "../parts/SaveBar";
import { isFirst, isLast, SignButtons } from "../parts/SignButtons";
import { usePieces, useSite } from "../parts/site";
import { useDraft } from "../parts/useDraft";
import { rowsOf, showsMenu, spotsOf } from "../pieces/content";
import { Weighed } from "../publish/Weighed";
import { added, at, type Entry, type Menu, moved, removed, slugOf, type Way, withEntry } from "./menuTree";
import "../pieces/pieces.css";

interface Declared {
  name: string;
  items: Menu[];
}
const NAME = "Menus";

async function sendMenus(site: string, { items }: Declared, version: number) {
  const params = { path: { site }, header: { "If-Match": `"${version}"` } };
  const made = await answer(
    api.PUT("/api/sites/{site}/menus", { params, body: { items: items as Shapes["MenuTree"][] } }),
  );
  return { id: "declared", version: made.version };
}

/** The menus of the site: lines that lead to pages or addresses, three levels deep, for any number of headers. */
export function Menus() {
  const site = useSite();
  const declared = useQuery(menusQuery(site.slug)).data;
  return declared ? <MenusForm declared={declared} /> : null;
}

function MenusForm({ declared }: { declared: Shapes["MenusInfo"] }) {
  const site = useSite();
  const tell = useMessage();
  const { list } = usePieces();
  const editing = useDraft<Declared>({
    kind: "menus",
    id: "declared",
    saved: { tree: { name: NAME, items: declared.items as Menu[] }, version: declared.version },
    blank: { name: NAME, items: [] },
    same: (a, b) => JSON.stringify(a.items) === JSON.stringify(b.items),
    send: (tree, version) => sendMenus(site.slug, tree, version),
  });
  const saved = () => tell("Saved the menus. They are in the draft, not live yet.");
  const set = (place: number, change: (menu: Menu) => Menu) =>
    editing.edit((newest) => ({
      ...newest,
      items: newest.items.map((menu, here) => (here === place ? change(menu) : menu)),
    }));
  const shownIn = (slug: string) =>
    list.filter((piece) => spotsOf(rowsOf(piece)).some(({ item }) => showsMenu(item, slug)));
  return (
    <section aria-label={NAME} className="settings">
      <h2>{NAME}</h2>
      <p className="mute">
        A menu item in a piece shows one of these. A line that leads to a page follows it, and takes its title
        where it says nothing itself.
      </p>
      <ConflictBox editing={editing} what="menus" onSaved={saved} />
      {editing.tree.items.map((menu, place) => {
        const users = shownIn(menu.slug);
        return (
          <section
            // biome-ignore lint/suspicious/noArrayIndexKey: a menu is its place while its name is typed
            key={place}
            className="item-row"
            aria-label={`Menu ${menu.name}`}
          >
            <div className="row">
              <LabelledField
                label={`Name of menu ${place + 1}`}
                value={menu.name}
                onChange={(name) =>
                  set(place, (one) => ({
                    ...one,
                    name,
                    slug: declared.items.some((known) => known.slug === one.slug) ? one.slug : slugOf(name),
                  }))
                }
              />
              <span className="mute">
                {users.length ? `in ${users.map((piece) => piece.name).join(", ")}` : "in no piece"}
              </span>
              <Button
                variant="text"
                color="inherit"
                disabled={users.length > 0}
                title={users.length ? "Take it out of these pieces first" : undefined}
                aria-label={`Remove the menu ${menu.name}`}
                onClick={() =>
                  editing.edit((newest) => ({
                    ...newest,
                    items: newest.items.filter((_, here) => here !== place),
                  }))
                }
              >
                ×
              </Button>
            </div>
            <EntryList menu={menu} way={[]} onChange={(change) => set(place, change)} />
            {editing.problemUnder(`/menus/${place}`) && (
              <p className="field-error" role="alert">
                {editing.problemUnder(`/menus/${place}`)?.message}
              </p>
            )}
          </section>
        );
      })}
      <button
        type="button"
        className="token add"
        onClick={() =>
          editing.edit((newest) => ({
            ...newest,
            items: [...newest.items, { slug: `menu-${newest.items.length + 1}`, name: "", entries: [] }],
          }))
        }
      >
        + menu
      </button>
      <SaveBar
        editing={editing}
        what="menus"
        onSave={async () => (await editing.save()) && saved()}
        onDrop={editing.drop}
      >
        <Weighed editing={editing} to="menus" body={{ items: editing.tree.items }} />
      </SaveBar>
    </section>
  );
}

interface ListProps {
  menu: Menu;
  /** The way to the entries: the place at each level. */
  way: Way;
  onChange: (change: (menu: Menu) => Menu) => void;
}

const DEPTH = 3;

function EntryList({ menu, way, onChange }: ListProps) {
  const entries = at(menu, way)?.entries ?? [];
  return (
    <div className={way.length ? "menu-entries inner" : "menu-entries"}>
      {entries.map((entry, place) => (
        <EntryRow
          // biome-ignore lint/suspicious/noArrayIndexKey: a line is its place while it is typed
          key={place}
          menu={menu}
          entry={entry}
          way={[...way, place]}
          last={place === entries.length - 1}
          onChange={onChange}
        />
      ))}
      <button type="button" className="token add" onClick={() => onChange((one) => added(one, way))}>
        {way.length ? "+ line below" : "+ line"}
      </button>
    </div>
  );
}

interface RowProps extends ListProps {
  entry: Entry;
  last: boolean;
}

function EntryRow({ menu, entry, way, last, onChange }: RowProps) {
  const place = way.at(-1) ?? 0;
  const name = `line ${way.map((one) => one + 1).join(".")} of ${menu.name}`;
  const set = (changes: Entry) => onChange((one) => withEntry(one, way, changes));
  const tools = [
    [`Move ${name} up`, "↑", isFirst(place === 0), () => onChange((one) => moved(one, way, -1))],
    [`Move ${name} down`, "↓", isLast(last), () => onChange((one) => moved(one, way, 1))],
    [`Take away ${name}`, "×", false, () => onChange((one) => removed(one, way))],
  ] as const;
  return (
    <>
      <div className="menu-entry">
        <LabelledField
          label={`Text of ${name}`}
          placeholder={entry.page ? "the page's title" : "text"}
          value={entry.text ?? ""}
          onChange={(text) => set({ text })}
        />
        <PageFinder
          label={`Page of ${name}`}
          path={entry.page ?? ""}
          onChoose={(page) => set({ page, href: "" })}
        />
        <LabelledField
          label={`Address of ${name}`}
          mono
          placeholder="or an address"
          value={entry.href ?? ""}
          onChange={(href) => set(href ? { href, page: "" } : { href })}
        />
        <LabelledField
          label={`Panel of ${name}`}
          mono
          placeholder="panel slot"
          value={entry.panel ?? ""}
          onChange={(panel) => set({ panel })}
        />
        <SignButtons buttons={tools} width={26} />
      </div>
      {way.length < DEPTH && <EntryList menu={menu} way={way} onChange={onChange} />}
    </>
  );
}
