import { type KeyboardEvent, type PointerEvent, useRef } from "react";

interface Props {
  /** What the lines part, such as `row 1`. */
  label: string;
  /** How wide each part is, in any unit. */
  widths: number[];
  /** How far an arrow key moves a line, in that unit. */
  step: number;
  /** A part's width as it is written in it. */
  told: (at: number) => string;
  /** Move the line after one part by so much. */
  onMove: (line: number, by: number) => void;
}

/** Parts of a row side by side; the lines between them are dragged, or moved by the arrow keys. */
export function Ruler({ label, widths, step, told, onMove }: Props) {
  const bar = useRef<HTMLDivElement>(null);
  const from = useRef<{ line: number; x: number } | null>(null);
  const sum = widths.reduce((all, one) => all + one, 0);
  const begin = (line: number) => (event: PointerEvent<HTMLElement>) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    from.current = { line, x: event.clientX };
  };
  const drag = (event: PointerEvent<HTMLElement>) => {
    const width = bar.current?.clientWidth ?? 0;
    if (!from.current || !width) return;
    const by = ((event.clientX - from.current.x) * sum) / width;
    const steps = Math.trunc(by / step) * step;
    if (steps === 0) return;
    onMove(from.current.line, steps);
    from.current = { line: from.current.line, x: from.current.x + (steps * width) / sum };
  };
  const keys = (line: number) => (event: KeyboardEvent) => {
    const by = { ArrowLeft: -step, ArrowRight: step }[event.key];
    if (!by) return;
    event.preventDefault();
    onMove(line, by);
  };
  return (
    <div ref={bar} className="ruler">
      {widths.map((width, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a part is its place
        <span key={at} className="ruler-part" style={{ flexGrow: width }}>
          <span className="clip">{told(at)}</span>
          {at < widths.length - 1 && (
            <span
              role="separator"
              tabIndex={0}
              aria-orientation="vertical"
              aria-label={`Line after column ${at + 1} of ${label}`}
              aria-valuenow={Math.round((100 * width) / sum)}
              aria-valuemin={0}
              aria-valuemax={100}
              onPointerDown={begin(at)}
              onPointerMove={drag}
              onPointerUp={() => {
                from.current = null;
              }}
              onKeyDown={keys(at)}
            />
          )}
        </span>
      ))}
    </div>
  );
}
