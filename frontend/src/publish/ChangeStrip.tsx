import type { CSSProperties, KeyboardEvent } from "react";
import { Link } from "react-router";
import type { Shapes } from "../api/client";
import { useLinkTo } from "../parts/site";
import { count } from "../parts/words";

/** Pages that are shown one by one; more would be too small to be met. */
const MOST_SHOWN = 60;

/** How a state of a target is drawn: a piece's colour, hatched where it is left empty, dotted where nothing is set. */
export interface Drawn {
  colour?: string | undefined;
  look: "" | "hatched" | "dotted" | "faded";
}

interface Props {
  where: Shapes["Somewhere"];
  before: Drawn;
  after: Drawn;
  /** What changes, for those who do not see it. */
  about: string;
}

const MOVES: Record<string, -1 | 1> = { ArrowLeft: -1, ArrowRight: 1 };

/** Only the pages that change, each as it is above and as it will be below; each leads to the pair of pictures. */
export function ChangeStrip({ where, before, after, about }: Props) {
  const linkTo = useLinkTo();
  const shown = where.paths.slice(0, MOST_SHOWN);
  const move = (event: KeyboardEvent<HTMLElement>) => {
    const step = MOVES[event.key];
    if (!step) return;
    const next =
      step > 0 ? document.activeElement?.nextElementSibling : document.activeElement?.previousElementSibling;
    if (next instanceof HTMLElement) next.focus();
    event.preventDefault();
  };
  return (
    <div className="change-strip">
      <nav aria-label={`Pages of ${about}`} onKeyDown={move}>
        {shown.map((path, place) => (
          <Link
            key={path}
            to={linkTo("preview", { path, beside: "live" })}
            title={path}
            aria-label={path}
            tabIndex={place ? -1 : 0}
          >
            <Block {...before} />
            <Block {...after} />
          </Link>
        ))}
      </nav>
      {where.pages > shown.length && (
        <span className="mute">
          the first {shown.length} of {count(where.pages, "page")}
        </span>
      )}
    </div>
  );
}

function Block({ colour, look }: Drawn) {
  return <i className={look} style={{ "--s": colour ?? "var(--empty)" } as CSSProperties} />;
}
