import { Chooser } from "../parts/controls";
import { ColourField } from "./ColourField";
import type { PartProps } from "./PartProps";
import { styleOf, withContent } from "./tree";

const COLOURS = [
  ["background", "ground"],
  ["ink", "ink"],
  ["pointer", "links under the pointer"],
] as const;
const OVER = [
  ["over-background", "ground over the title"],
  ["over-ink", "ink over the title"],
  ["over-pointer", "links there, under the pointer"],
] as const;

/** The kinds that stand in places of different widths. */
const BANDS: string[] = ["widget"];

/** The colours of a piece as a whole; a header's also for where it lies over the title. */
export function WholePiece({ tree, palette, problemAt, onChange }: PartProps & { palette: string[] }) {
  const style = styleOf(tree);
  const set = (key: string, value: string) => {
    const { [key]: _, ...rest } = style;
    onChange(withContent(tree, { style: value ? { ...rest, [key]: value } : rest }));
  };
  return (
    <section aria-label="Whole piece">
      <h3>Whole piece</h3>
      {[...COLOURS, ...(tree.kind === "header" ? OVER : [])].map(([key, name]) => (
        <div className="item-part" key={key}>
          <span className="mute">{name}</span>
          <ColourField
            label={name}
            value={style[key] ?? ""}
            palette={palette}
            onChange={(value) => set(key, value)}
          />
          {problemAt(`/content/style/${key}`) && (
            <p className="field-error">{problemAt(`/content/style/${key}`)}</p>
          )}
        </div>
      ))}
      {BANDS.includes(tree.kind) && (
        <div className="item-part">
          <span className="mute">runs as wide</span>
          <Chooser
            label="Runs as wide"
            value={style.width === "page" ? "page" : "place"}
            options={[
              ["place", "as its place does"],
              ["page", "as headers and footers do"],
            ]}
            onChange={(width) => set("width", width === "page" ? width : "")}
          />
        </div>
      )}
    </section>
  );
}
