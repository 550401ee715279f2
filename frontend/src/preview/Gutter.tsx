import { type RefObject, useCallback, useEffect, useRef, useState } from "react";
import type { Shapes } from "../api/client";
import { usePieces } from "../parts/site";
import { slotCalled, slotName, slotsIn } from "../parts/slots";
import { outcomeText, targetName } from "../parts/words";

interface Props {
  /** The page as it stands in its frame; null until it does. */
  page: Document | null;
  targets: Shapes["PreviewTarget"][];
  /** The slots that look otherwise than beside. */
  differing: string[];
  onOpen: (slot: string) => void;
}

interface Label {
  slot: string;
  top: number;
}

/** How far labels stand apart at least, in pixels. */
const APART = 34;

/** What stands in the slots of a drawn page, beside it and never over it: slot, pieces and rule, each at its height. */
export function Gutter({ page, targets, differing, onOpen }: Props) {
  const { bySlug } = usePieces();
  const gutter = useRef<HTMLDivElement>(null);
  const labels = useLabels(page, gutter);
  const light = (slot: string, on: boolean) => page && slotCalled(page, slot)?.classList.toggle("lit", on);
  return (
    <div ref={gutter} className="gutter">
      {labels.map(({ slot, top }) => {
        const found = targets.find((one) => one.target === slot);
        if (!found) return null;
        const colour = bySlug.get(found.outcome.pieces[0] ?? "")?.colour ?? "var(--empty)";
        const name = outcomeText(found.outcome, (slug) => bySlug.get(slug)?.name);
        return (
          <button
            key={slot}
            type="button"
            className={differing.includes(slot) ? "slot-label differs" : "slot-label"}
            style={{ top, "--s": colour } as React.CSSProperties}
            title={`${targetName(slot)}: ${name}${found.by ? `, by ${found.by}` : ""}`}
            onClick={() => onOpen(slot)}
            onMouseEnter={() => light(slot, true)}
            onMouseLeave={() => light(slot, false)}
            onFocus={() => light(slot, true)}
            onBlur={() => light(slot, false)}
          >
            <span className="clip">{targetName(slot)}</span>
            <b className="clip">{name}</b>
            <span className="visually-hidden">
              {found.by && `by ${found.by}`}
              {differing.includes(slot) && ", differs"}
            </span>
          </button>
        );
      })}
    </div>
  );
}

/** The slots of a page in their order, each with where its label stands: at its top, below the one before it. */
function useLabels(page: Document | null, gutter: RefObject<HTMLDivElement | null>): Label[] {
  const [labels, setLabels] = useState<Label[]>([]);
  const measure = useCallback(() => {
    const frame = page?.defaultView?.frameElement as HTMLIFrameElement | null | undefined;
    if (!page || !frame || !gutter.current) return;
    const box = frame.getBoundingClientRect();
    const room = gutter.current.getBoundingClientRect();
    const scale = frame.clientWidth ? box.width / frame.clientWidth : 1;
    let free = 0;
    const found: Label[] = [];
    for (const slot of slotsIn(page)) {
      const { top, bottom } = slot.getBoundingClientRect();
      const begins = box.top + top * scale - room.top;
      const ends = box.top + bottom * scale - room.top;
      if (ends < 0 || begins > room.height) continue;
      const stands = Math.max(begins, free, 0);
      free = stands + APART;
      found.push({ slot: slotName(slot), top: stands });
    }
    // The last ones stand above the foot, and those before them make room.
    let limit = room.height - APART;
    for (const label of found.toReversed()) {
      label.top = Math.min(label.top, limit);
      limit = label.top - APART;
    }
    setLabels((known) => (JSON.stringify(known) === JSON.stringify(found) ? known : found));
  }, [page, gutter]);
  useEffect(() => {
    if (!page || !gutter.current) return;
    measure();
    const view = page.defaultView;
    view?.addEventListener("scroll", measure, { passive: true });
    const resized = new ResizeObserver(measure);
    resized.observe(gutter.current);
    if (page.body) resized.observe(page.body);
    return () => {
      view?.removeEventListener("scroll", measure);
      resized.disconnect();
    };
  }, [page, gutter, measure]);
  return labels;
}
