import Button from "@mui/material/Button";
import type { Shapes } from "../api/client";
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

function PartField({
  part,
  value,
  item,
  onChange,
}: {
  part: Part;
  value: unknown;
  item: string;
  onChange: (value: unknown) => void;
}) {
  const label = NAMES[part.name] ?? part.name;
  const full = `${item}: ${label}`;
  const text = String(value ?? part.default ?? "");
  switch (part.takes) {
    case "links":
      return (
        <LinksField
          links={Array.isArray(value) ? (value as LinkPart[]) : []}
          item={item}
          onChange={onChange}
        />
      );
    case "text":
      return (
        <label>
          {label}
          <textarea
            className="input"
            aria-label={full}
            rows={3}
            value={text}
            onChange={(event) => onChange(event.target.value)}
          />
        </label>
      );
    case "number":
      return (
        <label>
          {label}
          <input
            className="input"
            aria-label={full}
            type="number"
            min={1}
            max={20}
            value={text}
            onChange={(event) => onChange(Number(event.target.value))}
          />
        </label>
      );
    case "tone":
      return (
        <label>
          {label}
          <select
            className="input"
            aria-label={full}
            value={text || "calm"}
            onChange={(event) => onChange(event.target.value)}
          >
            {["plain", "calm", "warm", "urgent"].map((tone) => (
              <option key={tone}>{tone}</option>
            ))}
          </select>
        </label>
      );
    case "query":
      return (
        <div
          style={{
            display: "grid",
            gridTemplateColumns: "84px minmax(0, 1fr)",
            gap: 8,
            alignItems: "center",
          }}
        >
          <span className="mute">{label}</span>
          <QueryField label={full} value={text} onChange={onChange} />
        </div>
      );
    default:
      return (
        <label>
          {label}
          <input
            className={`input ${part.takes === "href" ? "mono" : ""}`}
            aria-label={full}
            value={text}
            onChange={(event) => onChange(event.target.value)}
          />
        </label>
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
          <input
            className="input"
            aria-label={`${item}: text of link ${place + 1}`}
            value={link.text}
            onChange={(event) => change(place, { text: event.target.value })}
          />
          <input
            className="input mono"
            aria-label={`${item}: address of link ${place + 1}`}
            value={link.href}
            onChange={(event) => change(place, { href: event.target.value })}
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
