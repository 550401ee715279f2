import { Frame } from "../parts/Frame";

const WIDTHS = [
  ["Desktop", 1280],
  ["Tablet", 800],
  ["Phone", 390],
] as const;
const DRAWN_HEIGHT: Record<string, number> = { header: 240, title: 300, footer: 520 };

/** The real rendering of a piece at three widths; of what stands in a sidebar, at that of one. */
export function Widths({ html, name, kind }: { html: string; name: string; kind: string }) {
  const wide = ["header", "footer", "title", "template"].includes(kind);
  const height = DRAWN_HEIGHT[kind] ?? 700;
  if (!wide) {
    return (
      <figure style={{ margin: 0, maxWidth: 380 }}>
        <figcaption className="mute">In a sidebar</figcaption>
        <div className="picture" style={{ border: "1px solid var(--line)", borderRadius: 4 }}>
          <Frame html={html} title={`${name} in a sidebar`} width={352} height={height} />
        </div>
      </figure>
    );
  }
  return (
    <>
      {WIDTHS.map(([label, width]) => (
        <figure key={label} style={{ margin: "0 0 14px", maxWidth: width }}>
          <figcaption className="mute">
            {label}, {width} px
          </figcaption>
          <div style={{ border: "1px solid var(--line)", borderRadius: 4, overflow: "hidden" }}>
            <Frame
              html={html}
              title={`${name}, ${label}`}
              width={width}
              height={width === 390 ? height * 1.6 : height}
            />
          </div>
        </figure>
      ))}
    </>
  );
}
