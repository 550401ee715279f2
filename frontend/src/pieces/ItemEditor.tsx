import Button from "@mui/material/Button";
import type { Shapes } from "../api/client";
import { Chooser, LabelledField } from "../parts/controls";
import { QueryField } from "../parts/QueryField";
import type { Item } from "./tree";

type Part = Shapes["ItemPart"];
interface LinkPart {
  text: string;
  href: string;
}

interface Props {
  item: Item;
  place: number;
  last: boolean;
  parts: Part[];
  problemAt: (pointer: string) => string | undefined;
  onChange: (item: Item) => void;
  onMove: (to: number) => void;
  onRemove: () => void;
}

const TONES = ["plain", "calm", "warm", "urgent"].map((tone) => [tone, tone] as const);
const NAMES: Record<string, string> = {
  href: "leads to",
  action: "searches at",
  count: "how many",
  query: "which pages",
};
export const itemName = (type: string) => type.charAt(0).toUpperCase() + type.slice(1).replaceAll("-", " ");

/** One item of a piece and its settings. */
export function ItemEditor({ item, place, last, parts, problemAt, onChange, onMove, onRemove }: Props) {
  const name = itemName(item.type);
  return (
    <section className="item-row" aria-label={`${name}, item ${place + 1}`}>
      <div className="row">
        <b className="grow">{name}</b>
        <Button
          variant="text"
          color="inherit"
          disabled={place === 0}
          aria-label={`Move ${name} up`}
          onClick={() => onMove(place - 1)}
        >
          ↑
        </Button>
        <Button
          variant="text"
          color="inherit"
          disabled={last}
          aria-label={`Move ${name} down`}
          onClick={() => onMove(place + 1)}
        >
          ↓
        </Button>
        <Button variant="text" color="inherit" aria-label={`Take away ${name}`} onClick={onRemove}>
          ×
        </Button>
      </div>
      {parts.map((part) => {
        const problem = problemAt(`/content/items/${place}/${part.name}`);
        return (
          <div key={part.name}>
            <PartField
              part={part}
              value={item[part.name]}
              item={name}
              onChange={(value) => onChange({ ...item, [part.name]: value })}
            />
            {problem && (
              <p className="field-error" role="alert">
                {problem}
              </p>
            )}
          </div>
        );
      })}
    </section>
  );
}

interface PartFieldProps {
  part: Part;
  value: unknown;
  item: string;
  onChange: (value: unknown) => void;
}

/** One setting of an item, by what it takes. Links stand below each other; all else beside its name. */
function PartField({ part, value, item, onChange }: PartFieldProps) {
  if (part.takes === "links") {
    const links = Array.isArray(value) ? (value as LinkPart[]) : [];
    return <LinksField links={links} item={item} onChange={onChange} />;
  }
  const label = NAMES[part.name] ?? part.name;
  const text = String(value ?? part.default ?? "");
  return (
    <div className="item-part">
      <span className="mute">{label}</span>
      <PlainPart takes={part.takes} label={`${item}: ${label}`} text={text} onChange={onChange} />
    </div>
  );
}

interface PlainPartProps {
  takes: Part["takes"];
  label: string;
  text: string;
  onChange: (value: unknown) => void;
}

function PlainPart({ takes, label, text, onChange }: PlainPartProps) {
  switch (takes) {
    case "text":
      return <LabelledField label={label} rows={3} value={text} onChange={onChange} />;
    case "number":
      return (
        <LabelledField
          label={label}
          type="number"
          value={text}
          onChange={(typed) => onChange(Number(typed))}
        />
      );
    case "tone":
      return <Chooser label={label} value={text || "calm"} options={TONES} onChange={onChange} />;
    case "query":
      return <QueryField label={label} value={text} onChange={onChange} />;
    default:
      return (
        <LabelledField
          label={label}
          mono={takes === "href" || takes === "own-href"}
          value={text}
          onChange={onChange}
        />
      );
  }
}

function LinksField({
  links,
  item,
  onChange,
}: {
  links: LinkPart[];
  item: string;
  onChange: (links: LinkPart[]) => void;
}) {
  const change = (place: number, changes: Partial<LinkPart>) =>
    onChange(links.map((link, at) => (at === place ? { ...link, ...changes } : link)));
  return (
    <div style={{ display: "grid", gap: 4 }}>
      {links.map((link, place) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a link is its place while it is being typed
        <div className="row" key={place}>
          <LabelledField
            label={`${item}: text of link ${place + 1}`}
            value={link.text}
            onChange={(text) => change(place, { text })}
          />
          <LabelledField
            label={`${item}: address of link ${place + 1}`}
            mono
            value={link.href}
            onChange={(href) => change(place, { href })}
          />
          <Button
            variant="text"
            color="inherit"
            style={{ minWidth: 28 }}
            aria-label={`Take away link ${link.text}`}
            onClick={() => onChange(links.filter((_, at) => at !== place))}
          >
            ×
          </Button>
        </div>
      ))}
      <div>
        <button
          type="button"
          className="token add"
          style={{ fontSize: 12 }}
          onClick={() => onChange([...links, { text: "", href: "/" }])}
        >
          + link
        </button>
      </div>
    </div>
  );
}
