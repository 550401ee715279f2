import type { CSSProperties, KeyboardEvent } from "react";
import { Link } from "react-router";
import { useLinkTo } from "./site";
import { count } from "./words";

/** Pages that are shown one by one; more would be too small to be met. */
const MOST_SHOWN = 60;

/** How what a page has is drawn: in a colour, hatched where it is left empty, dotted where nothing is set, faded. */
export interface Drawn {
  colour?: string | undefined;
  look: "" | "hatched" | "dotted" | "faded";
}

interface Props {
  paths: string[];
  /** How many pages there are, of which these are the first. */
  total: number;
  /** What stands for each page, from above: as it was and as it will be, or one thing. */
  blocks: Drawn[];
  /** What the pages have in common, for those who do not see it. */
  about: string;
  /** How the preview, to which each page leads, stands there. */
  params?: Record<string, string>;
}

const MOVES: Record<string, -1 | 1> = { ArrowLeft: -1, ArrowRight: 1 };

/** Only the pages that are concerned, one by one; each leads to its preview. */
export function PageStrip({ paths, total, blocks, about, params }: Props) {
  const linkTo = useLinkTo();
  const shown = paths.slice(0, MOST_SHOWN);
  const move = (event: KeyboardEvent<HTMLElement>) => {
    const step = MOVES[event.key];
    if (!step) return;
    const now = document.activeElement;
    const next = step > 0 ? now?.nextElementSibling : now?.previousElementSibling;
    if (next instanceof HTMLElement) next.focus();
    event.preventDefault();
  };
  return (
    <div className="page-strip">
      <nav aria-label={`Pages of ${about}`} onKeyDown={move}>
        {shown.map((path, place) => (
          <Link
            key={path}
            to={linkTo("preview", { path, ...params })}
            title={path}
            aria-label={path}
            tabIndex={place ? -1 : 0}
          >
            {blocks.map(({ colour, look }, number) => (
              <i
                // biome-ignore lint/suspicious/noArrayIndexKey: their places are what they are
                key={number}
                className={look}
                style={{ "--s": colour ?? "var(--empty)" } as CSSProperties}
              />
            ))}
          </Link>
        ))}
      </nav>
      {total > shown.length && (
        <span className="mute">
          the first {shown.length} of {count(total, "page")}
        </span>
      )}
    </div>
  );
}
