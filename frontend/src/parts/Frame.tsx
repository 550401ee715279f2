import { useEffect, useLayoutEffect, useRef, useState } from "react";
import { type Box, broughtIntoView, isSeen, isUncovered, pickedOn } from "./picked";
import { redraw } from "./redraw";
import { slotAround } from "./slots";

interface Props {
  html: string;
  title: string;
  /** The width that the page is laid out for, in CSS pixels. */
  width: number;
  /** The most of it that is shown, in pixels of the layout, less where it is lower; the whole stage where absent. */
  height?: number;
  onSlot?: (slot: string) => void;
  /** What is told once a page stands in it, and each time another does: its document. */
  onDrawn?: (page: Document) => void;
  onLink?: (path: string) => void;
  /** The place of the item that is marked as chosen, in a piece drawn with its items marked. */
  chosen?: string;
  onItem?: (pointer: string) => void;
  /** Of a page on which something is picked: only that is shown, or the window of the page with that outlined. */
  picked?: "alone" | "outlined";
  /** The widths that the page is laid out for in turn where it does not show what is picked. */
  narrower?: readonly number[];
  /** What is told where the page does not show what is picked at any of them. */
  onUnseen?: () => void;
  /** The least scale: what does not fit in then is cut. */
  least?: number;
}

/** The height of the window in which a page stands of which a part is shown, in pixels of its layout. */
const WINDOW = 900;

/** Where what is picked on a page stands, once it is brought into view; null where nothing is picked. */
function pickedAt(page: Document, width: number): Picked {
  const range = pickedOn(page);
  if (!range) return null;
  if (range.collapsed) return "empty";
  const box = broughtIntoView(page, range);
  return isSeen(box, width) && isUncovered(page, range, box) ? box : "unseen";
}

const WIDTHS = new Intl.ListFormat("en", { type: "disjunction" });

/** How high the part is taken to be before it is known: as most are, so that little moves then. */
const USUAL = 90;

/** What is picked on a page, once it stands there: its box, or why there is none. */
type Picked = Box | "empty" | "unseen" | null;

/**
 * A rendered page, scaled to the room there is. Scripts never run in it (no `allow-scripts`); it shares the
 * origin only so that clicks on its regions and links can be read from outside.
 */
export function Frame({
  html,
  title,
  width,
  height,
  onSlot,
  onDrawn,
  onLink,
  chosen,
  onItem,
  picked,
  narrower = [],
  onUnseen,
  least = 0,
}: Props) {
  const stage = useRef<HTMLDivElement>(null);
  const frame = useRef<HTMLIFrameElement>(null);
  const [room, setRoom] = useState({ width: 0, height: 0 });
  const handlers = useRef({ onSlot, onDrawn, onLink, onItem, onUnseen });
  const mark = () => {
    for (const item of frame.current?.contentDocument?.querySelectorAll("[data-item]") ?? [])
      item.classList.toggle("chosen", item.getAttribute("data-item") === chosen);
  };
  useEffect(() => {
    handlers.current = { onSlot, onDrawn, onLink, onItem, onUnseen };
    mark();
  });
  useLayoutEffect(() => {
    const element = stage.current;
    if (!element) return;
    const observer = new ResizeObserver(() =>
      setRoom({ width: element.clientWidth, height: element.clientHeight }),
    );
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  const [step, setStep] = useState(0);
  const laidOut = (picked && narrower[step - 1]) || width;
  const [known, setBox] = useState<Picked>(null);
  const box = picked ? known : null;
  const seen = box && typeof box === "object" ? box : undefined;
  const cut = picked === "alone" ? seen : undefined;
  // What is nearly as wide as its page is shown as wide as that, at each width in its measure.
  const part = cut && cut.width * 2 < laidOut ? cut : { x: 0, width: laidOut };
  const scale = room.width ? Math.min(1, Math.max(least, room.width / part.width)) : 0;
  const [content, setContent] = useState(0);
  const inFrame = useRef("");
  const told = useRef("");
  const measure = () => {
    const page = frame.current?.contentDocument;
    if (picked) {
      const found = page && pickedAt(page, laidOut);
      if (found === "unseen" && step < narrower.length) setStep(step + 1);
      else if (found) setBox(found);
      // Told once of each page: what comes later makes it be measured again.
      if (found === "unseen" && step === narrower.length && told.current !== inFrame.current) {
        told.current = inFrame.current;
        handlers.current.onUnseen?.();
      }
      return;
    }
    const height = page?.body?.getBoundingClientRect().height ?? 0;
    setContent(Math.ceil(height)); // Half a pixel too little would bring a scroll bar, and with it another width.
  };
  // A picture that follows each letter that is typed is redrawn where it stands; a page that is gone to is a new one.
  const [first, setFirst] = useState("");
  const inPlace = height !== undefined;
  if (inPlace && !first && html) setFirst(html);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what stands in the frame changes with the page alone
  useLayoutEffect(() => {
    const page = frame.current?.contentDocument;
    if (!inPlace || !page || !inFrame.current || inFrame.current === html || !html) return;
    redraw(page, html);
    inFrame.current = html;
    mark();
    measure();
  }, [html]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: it is laid out anew with its width alone
  useLayoutEffect(() => {
    if (step && inFrame.current) measure();
  }, [step]);
  const newest = useRef(measure);
  useEffect(() => {
    newest.current = measure;
  });
  const listen = () => {
    const page = frame.current?.contentDocument;
    if (!page) return;
    if (inPlace && html !== first && html) redraw(page, html);
    inFrame.current = html;
    mark();
    measure();
    handlers.current.onDrawn?.(page);
    // Pictures and style sheets that come later make it higher.
    page.addEventListener("load", () => newest.current(), true);
    page.addEventListener("click", (event) => {
      const element = event.target as Element;
      event.preventDefault();
      const item = element.closest("[data-item]")?.getAttribute("data-item");
      if (item && handlers.current.onItem) {
        handlers.current.onItem(item);
        return;
      }
      const link = element.closest("a[href]")?.getAttribute("href");
      if (link?.startsWith("/")) handlers.current.onLink?.(link.split(/[?#]/)[0] ?? "/");
      else handlers.current.onSlot?.(slotAround(element));
    });
  };
  const source = inPlace ? first : html;
  const inSight = picked === "alone" ? (box ? (cut?.height ?? 0) : USUAL) : content || height;
  const fitted = height && Math.min(height, inSight ?? height);
  const shown = fitted ?? (scale ? room.height / scale : 0);
  return (
    <>
      <div
        ref={stage}
        className={height ? (onItem ? "picture choosing" : "picture") : "stage grow"}
        // Before its room is known it is as high as it may become: what is below is not taken for what is in sight.
        style={
          fitted === undefined
            ? undefined
            : scale
              ? { height: fitted * scale }
              : { aspectRatio: `${width} / ${fitted}` }
        }
      >
        {source && (
          <iframe
            ref={frame}
            title={title}
            sandbox="allow-same-origin"
            srcDoc={source}
            onLoad={listen}
            tabIndex={height ? -1 : 0}
            style={{
              width: laidOut,
              height: picked === "alone" ? WINDOW : shown,
              transform: `translate(${-part.x * scale}px, ${-(cut?.y ?? 0) * scale}px) scale(${scale})`,
              clipPath: cut && `inset(0 ${laidOut - part.x - part.width}px 0 ${part.x}px)`,
              marginInline: height ? 0 : "auto",
            }}
          />
        )}
        {picked === "outlined" && seen && (
          <i
            className="outline"
            style={{
              left: seen.x * scale,
              top: seen.y * scale,
              width: seen.width * scale,
              height: seen.height * scale,
            }}
          />
        )}
      </div>
      {seen && step > 0 && <p className="unseen">At {laidOut} px.</p>}
      {box && !seen && (
        <p className="unseen">
          {box === "empty"
            ? "It draws nothing there."
            : `Not shown by the page's own styles at ${WIDTHS.format([width, ...narrower].map(String))} px, as long as no script runs.`}
        </p>
      )}
    </>
  );
}
