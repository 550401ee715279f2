import { Frame } from "../parts/Frame";

const ACROSS = [
  ["Desktop", 1280],
  ["Tablet", 800],
  ["Phone", 390],
] as const;
const BESIDE = [
  ["In a sidebar", 352],
  ["Phone", 390],
] as const;
const DRAWN_HEIGHT: Record<string, number> = { header: 240, title: 300, footer: 520, template: 900 };

interface Props {
  html: string;
  /** Whether it is a page in its own HTML, of which the piece is shown. */
  inPlace: boolean;
  name: string;
  kind: string;
  /** The pointer of the item that is chosen. */
  chosen?: string;
  onItem?: (pointer: string) => void;
  /** What is told where the page hides it at the widest. */
  onUnseen?: () => void;
}

/** The real rendering of a piece at three widths; alone, of what stands in a sidebar, at that of one and of a phone. */
export function Widths({ html, inPlace, name, kind, chosen, onItem, onUnseen }: Props) {
  const wide = inPlace || ["header", "footer", "title", "template"].includes(kind);
  const height = DRAWN_HEIGHT[kind] ?? 700;
  return (
    <div className={wide ? "three-widths" : "widths"}>
      {(wide ? ACROSS : BESIDE).map(([label, width]) => (
        <figure key={label} className={`at-${width}`} style={wide ? undefined : { width }}>
          <figcaption>
            {label}, {width} px
          </figcaption>
          <div className="drawn-width">
            <Frame
              html={html}
              title={`${name}, ${label}`}
              width={width}
              height={wide && width === 390 ? height * 1.6 : height}
              chosen={chosen}
              onItem={onItem}
              picked={inPlace ? "alone" : undefined}
              onUnseen={width === ACROSS[0][1] ? onUnseen : undefined}
            />
          </div>
        </figure>
      ))}
    </div>
  );
}
