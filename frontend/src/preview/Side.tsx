import Button from "@mui/material/Button";
import { useEffect, useState } from "react";
import { Frame } from "../parts/Frame";
import { slotCalled } from "../parts/slots";
import { targetName } from "../parts/words";
import { Gutter } from "./Gutter";
import type { Shown } from "./sides";
import { usePreview } from "./usePreview";

interface Props {
  shown: Shown;
  name: string;
  /** How it stands to what is beside it, where that is not told by the slots that differ. */
  standing?: string;
  outlined: boolean;
  width: number;
  /** The slot that is meant: the page stands scrolled to it. */
  target: string;
  /** The slots that look otherwise than in the draft; null for the draft itself. */
  differing: string[] | null;
  /** The labels of slots that differ from any page beside. */
  marked: string[];
  onDrawn: (page: Document) => void;
  onSlot: (slot: string) => void;
  onLink: (path: string) => void;
  onRemove?: (() => void) | undefined;
}

/** One picture of the preview, with what stands in its slots beside it. */
export function Side(props: Props) {
  const { shown, name, standing, outlined, width, target, differing, marked, onDrawn, onRemove } = props;
  const [page, setPage] = useState<Document | null>(null);
  const { data, error } = usePreview(shown, outlined);
  useEffect(() => {
    if (page && target) scrollTo(page, target);
  }, [page, target]);
  const told = [
    standing,
    data?.instead && "no page at this address: what is served there instead",
    differing &&
      (differing.length ? `differs in ${differing.map(plainName).join(", ")}` : "every slot looks the same"),
  ].filter(Boolean);
  return (
    <section className="view" aria-label={name} style={{ flexGrow: width }}>
      <p>
        <b className="clip">{name}</b>
        <span className="mute clip grow" title={told.join("; ")}>
          {told.join("; ")}
        </span>
        {onRemove && (
          <Button
            variant="text"
            size="small"
            sx={{ minWidth: 0, p: 0 }}
            aria-label={`Take away ${name}`}
            onClick={onRemove}
          >
            ×
          </Button>
        )}
      </p>
      {error ? (
        <p className="note-box">{error.message}</p>
      ) : (
        <div className="drawn">
          {outlined && (
            <Gutter page={page} targets={data?.targets ?? []} differing={marked} onOpen={props.onSlot} />
          )}
          <Frame
            html={data?.html ?? ""}
            title={`${shown.path}, ${name}`}
            width={width}
            onSlot={props.onSlot}
            onDrawn={(drawn) => {
              setPage(drawn);
              onDrawn(drawn);
            }}
            onLink={props.onLink}
          />
        </div>
      )}
    </section>
  );
}

const plainName = (slot: string) => targetName(slot).toLowerCase();

/** Scroll a page in its frame, and nothing around that, so that a slot stands in the middle. */
function scrollTo(page: Document, target: string) {
  const slot = slotCalled(page, target)?.getBoundingClientRect();
  const view = page.defaultView;
  if (slot && view) view.scrollBy(0, slot.top - Math.max(0, (view.innerHeight - slot.height) / 2));
}
