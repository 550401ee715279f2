import type { CSSProperties, ReactNode } from "react";
import { Lock } from "../parts/icons";
import { Opening } from "../parts/Opening";
import { capital } from "../parts/words";
import { Mark, type MarkKind, MEANS } from "./marks";

const PIECE = { "--s": "var(--accent)" } as CSSProperties;

/** Every mark of the list, as a cell shows it, and what it means. */
const MARKS: [string, ReactNode, string][] = [
  [
    "cell first last",
    "Main header",
    "A strip: these pages get this piece, named at its head. A piece keeps its colour everywhere.",
  ],
  ["cell empty first last", "left empty", "A rule leaves the place empty here."],
  ["cell unset first last", "nothing set", "No rule says anything about it here."],
  ["cell locked first last", <Lock key="lock" />, "Another system owns the place here; no rule changes it."],
  [
    "cell unseated first last",
    "Winter notice",
    "Decided, but not to be seen: the template of the page has no place for it.",
  ],
  [
    "cell first last",
    <span key="stack" className="stacked">
      Main header <b>+1</b>
    </span>,
    "Several pieces in one place, one below the other: the first is named, the others are counted.",
  ],
  ["cell lit first last", "Main header", "Under the pointer: all pages that the same rule decides."],
];

const KINDS = Object.keys(MEANS) as MarkKind[];

/** What the marks of the list mean. */
export function Legend() {
  return (
    <Opening text="Legend" about="Legend">
      {() => (
        <dl className="legend">
          {MARKS.map(([marks, shown, means]) => (
            <div key={means} className="grid">
              <dt className="line">
                <div className={marks} style={marks.includes("unset") ? undefined : PIECE}>
                  {shown}
                </div>
              </dt>
              <dd>{means}</dd>
            </div>
          ))}
          {KINDS.map((kind) => (
            <div key={kind}>
              <dt>
                <Mark kind={kind} />
              </dt>
              <dd>
                {capital(MEANS[kind])}.{kind === "unlike" && " Marked where the lens asks for it."}
              </dd>
            </div>
          ))}
          <div>
            <dt>
              <span className="mix">
                <i style={{ flex: 3, background: "var(--accent)" }} />
                <i className="hatched" style={{ flex: 1 }} />
              </span>
            </dt>
            <dd>A closed section, or a group: what its pages get, in proportion.</dd>
          </div>
        </dl>
      )}
    </Opening>
  );
}
