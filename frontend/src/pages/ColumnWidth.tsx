import { type KeyboardEvent, type PointerEvent, useRef } from "react";

/** Widths of columns, by target, in pixels; what is not drawn shares the room that is left. */
export type Widths = Record<string, number | undefined>;

const LEAST = 60;
const MOST = 600;
const STEP = 16;

interface Props {
  name: string;
  width: number | undefined;
  onChange: (width: number | undefined) => void;
}

/** The line at the right of a column: drawn by the pointer or the arrow keys; a double click gives the width back. */
export function ColumnWidth({ name, width, onChange }: Props) {
  const from = useRef<{ x: number; width: number } | null>(null);
  const now = (line: HTMLElement) => width ?? Math.round(line.parentElement?.offsetWidth ?? LEAST);
  const put = (wanted: number) => onChange(Math.max(LEAST, Math.min(MOST, Math.round(wanted))));
  const begin = (event: PointerEvent<HTMLElement>) => {
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    from.current = { x: event.clientX, width: now(event.currentTarget) };
  };
  const onKeyDown = (event: KeyboardEvent<HTMLElement>) => {
    const by = { ArrowLeft: -STEP, ArrowRight: STEP }[event.key];
    if (by) put(now(event.currentTarget) + by);
    else if (event.key === "Delete") onChange(undefined);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <span
      role="separator"
      tabIndex={0}
      className="width-line"
      aria-orientation="vertical"
      aria-label={`Width of ${name}`}
      aria-valuenow={width ?? 0}
      aria-valuemin={0}
      aria-valuemax={MOST}
      title="Draw the width; double click to give it back"
      onPointerDown={begin}
      onPointerMove={(event) => from.current && put(from.current.width + event.clientX - from.current.x)}
      onPointerUp={() => {
        from.current = null;
      }}
      onDoubleClick={() => onChange(undefined)}
      onKeyDown={onKeyDown}
    />
  );
}
