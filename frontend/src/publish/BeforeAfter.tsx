import { useState } from "react";
import type { Shapes } from "../api/client";
import { type Drawn, PageStrip } from "../parts/PageStrip";
import { usePieces } from "../parts/site";
import { addedWords, outcomeText, targetName } from "../parts/words";
import { PagesButton, Paths } from "./Where";

interface BeforeAfterProps {
  shift: Shapes["ShiftInfo"];
  names: Record<string, string>;
}

/** A target before and after, as bands in the pieces' colours. */
export function BeforeAfter({ shift, names }: BeforeAfterProps) {
  const [open, setOpen] = useState(false);
  const drawn = useDrawnOutcome();
  return (
    <>
      <div className="before-after">
        <span className="mute">{targetName(shift.target)}</span>
        <Band outcome={shift.before} names={names} none="was not there" />
        <span aria-hidden="true">→</span>
        <Band outcome={shift.after} names={names} none="is gone" />
        <PagesButton where={shift} open={open} onOpen={setOpen} />
        {shift.words !== "everyone" && <span className="mute for">for {shift.words}</span>}
      </div>
      <PageStrip
        paths={shift.paths}
        total={shift.pages}
        blocks={[drawn(shift.before), drawn(shift.after)]}
        about={`${targetName(shift.target)}, ${shift.words}`}
        params={{ beside: "live" }}
      />
      {open && <Paths where={shift} />}
    </>
  );
}

interface BandProps {
  outcome: Shapes["OutcomeInfo"] | null;
  names: Record<string, string>;
  none: string;
}

function Band({ outcome, names, none }: BandProps) {
  const drawn = useDrawnOutcome();
  if (!outcome) return <span className="mute">{none}</span>;
  const { colour, look } = drawn(outcome);
  return (
    <span className="came" style={{ "--s": colour ?? "var(--empty)" } as React.CSSProperties}>
      <i className={look} />
      <span className="clip">
        {outcomeText(outcome, (slug) => names[slug])}
        {addedWords(outcome)}
      </span>
    </span>
  );
}

/** How an outcome is drawn: in the colour of its first piece. */
function useDrawnOutcome(): (outcome: Shapes["OutcomeInfo"] | null) => Drawn {
  const { bySlug } = usePieces();
  return (outcome) => {
    if (outcome?.state === "empty") return { look: "hatched" };
    if (!outcome?.pieces.length) return { look: "dotted" };
    return { colour: bySlug.get(outcome.pieces[0] ?? "")?.colour, look: "" };
  };
}
