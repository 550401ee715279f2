import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import type { Shapes } from "../api/client";
import { itemTypesQuery } from "../api/queries";
import { Chooser } from "../parts/controls";
import { useMessage } from "../parts/messages";
import { useSite } from "../parts/site";
import { copyItem } from "./clipboard";
import type { Item } from "./content";
import { LookFields } from "./LookFields";
import { PartField } from "./PartField";

type Part = Shapes["ItemPart"];

interface Props {
  item: Item;
  type: Shapes["ItemType"] | undefined;
  palette: string[];
  placeholders: string[];
  problemAt: (name: string) => string | undefined;
  onChange: (item: Item) => void;
  onRemove: () => void;
  /** What taking it away changes, and the way to hide it on some pages only. */
  children?: React.ReactNode;
}

/** What is set of one item: its own settings, its look, and taking it away. */
export function ItemSettings({
  item,
  type,
  palette,
  placeholders,
  problemAt,
  onChange,
  onRemove,
  children,
}: Props) {
  const tell = useMessage();
  const name = type?.name ?? item.type;
  const texts = type?.parts.some((part) => part.takes === "line" || part.takes === "text");
  return (
    <section aria-label={`${name}, settings`} className="settings-of">
      <h3>{name}</h3>
      <p className="mute">{type?.help}</p>
      {type?.parts
        .filter((part) => matters(part, item))
        .map((part) => (
          <PartLine
            key={part.name}
            part={part}
            item={item}
            name={name}
            problem={problemAt(part.name)}
            onChange={(value) => onChange(withPart(item, part, value))}
          />
        ))}
      {texts && (
        <details className="mute">
          <summary>Placeholders</summary>
          <p className="mono">{placeholders.map((one) => `{${one}}`).join(" ")}</p>
        </details>
      )}
      <LookFields item={item} name={name} palette={palette} onChange={onChange} />
      <h3>Take it away</h3>
      {children}
      <div className="row">
        <Button variant="outlined" color="inherit" aria-label={`Take away ${name}`} onClick={onRemove}>
          Take it away
        </Button>
        <Button
          variant="text"
          onClick={() => {
            copyItem(item);
            tell(`Copied ${name}. Paste it in any piece, under + item.`);
          }}
        >
          Copy item
        </Button>
      </div>
    </section>
  );
}

/** Settings of a menu that its other settings leave without meaning are not shown. */
function matters(part: Part, item: Item): boolean {
  if (item.type !== "menu") return true;
  const shows = item.shows ?? "menu";
  if (part.name === "menu") return shows === "menu";
  if (part.name === "links") return shows === "menu" && !item.menu;
  if (["page", "depth", "count"].includes(part.name)) return shows === "below";
  return part.name !== "fold" || shows !== "section";
}

/** What equals the default is not written. */
function withPart(item: Item, part: Part, value: unknown): Item {
  const { [part.name]: _, ...rest } = item;
  const usual = JSON.stringify(value) === JSON.stringify(part.default);
  return (usual ? rest : { ...rest, [part.name]: value }) as Item;
}

interface PartLineProps {
  part: Part;
  item: Item;
  name: string;
  problem: string | undefined;
  onChange: (value: unknown) => void;
}

/** What stands below its label, as it takes the whole width. */
const LISTS = ["links", "hours", "widgets", "feed", "code", "css"];

const boundTo = (value: unknown): string | null =>
  value !== null && typeof value === "object" && !Array.isArray(value)
    ? String((value as { setting?: unknown }).setting ?? "")
    : null;

/** One setting: its own value, or that of a page setting to which it is bound. */
function PartLine({ part, item, name, problem, onChange }: PartLineProps) {
  const settings = useSite().settings;
  const words = useQuery(itemTypesQuery).data?.markup;
  const value = item[part.name];
  const bound = boundTo(value);
  const label = `${name}: ${part.label}`;
  return (
    <div>
      <div className={LISTS.includes(part.takes) ? "item-part wide" : "item-part bindable"}>
        <span className="mute" title={part.help}>
          {part.label}
        </span>
        {bound === null ? (
          <PartField
            part={part}
            value={value}
            label={label}
            problem={problem}
            words={words}
            onChange={onChange}
          />
        ) : (
          <Chooser
            label={`${label}, from the page setting`}
            value={bound}
            options={settings.map((one) => [one.name, one.name] as const)}
            onChange={(setting) => onChange({ setting })}
          />
        )}
        {settings.length > 0 && part.bindable && (
          <button
            type="button"
            className={bound === null ? "bind" : "bind on"}
            title={bound === null ? `Let a page setting say ${part.label}` : `Say ${part.label} here`}
            aria-label={bound === null ? `Let a page setting say ${part.label}` : `Say ${part.label} here`}
            onClick={() => onChange(bound === null ? { setting: settings[0]?.name ?? "" } : part.default)}
          >
            =
          </button>
        )}
      </div>
      {problem && (
        <p className="field-error" role="alert">
          {problem}
        </p>
      )}
    </div>
  );
}
