import { useState } from "react";
import { Segments } from "../parts/controls";
import { Frame } from "../parts/Frame";
import { targetName } from "../parts/words";
import type { Shown } from "./sides";
import { usePreview } from "./usePreview";

export const OVERLAYS = [
  ["fade", "Fade"],
  ["wipe", "Wipe"],
  ["mark", "Mark"],
] as const;
export type Overlay = (typeof OVERLAYS)[number][0];

interface Layer {
  shown: Shown;
  name: string;
  onDrawn: (page: Document) => void;
}

interface Props {
  below: Layer;
  above: Layer;
  how: Overlay;
  onHow: (how: Overlay) => void;
  width: number;
  /** The slots that look otherwise; null while that is not known. */
  differing: string[] | null;
  onLink: (path: string) => void;
}

/** Two pages laid over each other: faded or wiped from one to the other, or with what differs dark on white. */
export function Overlaid({ below, above, how, onHow, width, differing, onLink }: Props) {
  const [share, setShare] = useState(50);
  const told = differing
    ? differing.length
      ? `differs in ${differing.map((slot) => targetName(slot).toLowerCase()).join(", ")}`
      : "every slot looks the same"
    : "";
  return (
    <section className="view" aria-label={`${above.name} over ${below.name}`}>
      <div className="row overlay-bar">
        <Segments label="How they are laid over each other" value={how} options={OVERLAYS} onChange={onHow} />
        {how !== "mark" && (
          <>
            <span className="mute">{below.name}</span>
            <input
              type="range"
              min={0}
              max={100}
              value={share}
              aria-label={`How much of ${above.name}`}
              aria-valuetext={`${share} % ${above.name}`}
              onChange={(event) => setShare(Number(event.target.value))}
            />
            <span className="mute">{above.name}</span>
          </>
        )}
        <span className="mute clip" title={told}>
          {how === "mark" && "dark is what differs"}
          {how === "mark" && told && "; "}
          {told}
        </span>
      </div>
      <div className={`overlay by-${how}`}>
        <LayerFrame layer={below} width={width} onLink={onLink} />
        <div
          className="above"
          style={
            how === "fade"
              ? { opacity: share / 100 }
              : how === "wipe"
                ? { clipPath: `inset(0 ${100 - share}% 0 0)` }
                : undefined
          }
        >
          <LayerFrame layer={above} width={width} onLink={onLink} />
        </div>
        {how === "wipe" && <i className="edge" style={{ left: `${share}%` }} />}
      </div>
    </section>
  );
}

function LayerFrame({ layer, width, onLink }: { layer: Layer; width: number; onLink: Props["onLink"] }) {
  const { shown, name, onDrawn } = layer;
  const { data, error } = usePreview(shown, false);
  if (error) return <p className="note-box">{error.message}</p>;
  return (
    <Frame
      html={data?.html ?? ""}
      title={`${shown.path}, ${name}`}
      width={width}
      onDrawn={onDrawn}
      onLink={onLink}
    />
  );
}
