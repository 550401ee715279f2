import { type PointerEvent, useState } from "react";
import { type Line, sectionOf } from "./tree";

interface Span {
  from: number;
  to: number;
}

/** Picking by drawing over the column of pages: all pages from the row where it began to the one where it ends. */
export function useDragPicking(lines: Line[], onPick: (numbers: number[]) => void) {
  const [begun, setBegun] = useState<number | null>(null);
  const [span, setSpan] = useState<Span | null>(null);
  const end = () => {
    setBegun(null);
    setSpan(null);
  };
  const handlers = {
    onPointerDown: (event: PointerEvent<HTMLElement>) => {
      const from = rowAt(event);
      const onControl = (event.target as Element).closest("button, input");
      // A finger scrolls.
      if (event.button === 0 && event.pointerType === "mouse" && from !== null && !onControl) setBegun(from);
    },
    onPointerMove: (event: PointerEvent<HTMLElement>) => {
      if (begun === null) return;
      const to = rowAt(event);
      if (to !== null && (span || to !== begun)) setSpan({ from: begun, to });
    },
    onPointerUp: () => {
      if (span) {
        const low = Math.min(span.from, span.to);
        const drawn = lines.slice(low, Math.max(span.from, span.to) + 1);
        onPick([
          ...new Set(
            drawn.flatMap((line) => (line.closed ? sectionOf(line) : line.group ? [] : [line.number])),
          ),
        ]);
      }
      end();
    },
    onPointerLeave: end,
  };
  const holds = (row: number) =>
    span !== null && row >= Math.min(span.from, span.to) && row <= Math.max(span.from, span.to);
  return { handlers, holds };
}

/** The row of the list whose page the pointer is over; null over anything else. */
function rowAt(event: PointerEvent<HTMLElement>): number | null {
  const cell = (event.target as Element).closest(".page[id]");
  const row = cell?.id.match(/^cell-(\d+)-0$/)?.[1];
  return row === undefined ? null : Number(row);
}
