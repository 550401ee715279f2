import Button from "@mui/material/Button";
import { LabelledField } from "../parts/controls";

export interface LinkPart {
  text: string;
  href: string;
}

interface Props {
  links: LinkPart[];
  label: string;
  onChange: (links: LinkPart[]) => void;
}

/** Links, each with its text and its address. */
export function LinksField({ links, label, onChange }: Props) {
  const item = label.split(":")[0];
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
