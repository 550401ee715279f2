import Button from "@mui/material/Button";
import { Link } from "react-router";
import { PieceName } from "../parts/PieceName";
import { useLinkTo } from "../parts/site";
import { count } from "../parts/words";
import { type Found, useMeasuring } from "./useMeasuring";

/** Pages that are named of each thing that is amiss. */
const MOST_NAMED = 12;

/** What only a drawn page tells: menus that wrap, what reaches over the edge, ink that cannot be read where it stands. */
export function Measured() {
  const { state, start, stop } = useMeasuring();
  return (
    <section aria-label="Measured in drawn pages">
      <h2 className="severity">
        In drawn pages {state && !state.going && <span className="mute">{state.found.length}</span>}
      </h2>
      <div className="row">
        {state?.going ? (
          <Button variant="outlined" onClick={stop}>
            Stop
          </Button>
        ) : (
          <Button variant="outlined" onClick={start}>
            {state ? "Measure again" : "Measure one page of each layout"}
          </Button>
        )}
        <span className={state?.problem ? "field-error" : "mute"} role="status">
          {state
            ? state.problem ||
              `${state.done.toLocaleString("en")} of ${count(state.all, "page")} measured at three widths${
                state.going ? " …" : `; ${count(state.found.length, "thing is", "things are")} amiss`
              }`
            : "Menus that wrap, what reaches over the edge, ink that cannot be read on what lies under it, ids that stand twice, headings that skip a level: at three widths, through this lens."}
        </span>
      </div>
      <ul className="findings" aria-label="Amiss in drawn pages">
        {state?.found.map((one) => (
          <Row key={JSON.stringify([one.kind, one.piece, one.slot, one.words, one.width])} found={one} />
        ))}
      </ul>
    </section>
  );
}

function Row({ found }: { found: Found }) {
  const linkTo = useLinkTo();
  const { piece, slot, words, width, paths } = found;
  return (
    <li className="finding warning">
      <b>{words}</b> on {width === "desktop" ? "the desktop" : `a ${width}`}
      {piece ? (
        <>
          , in <PieceName slug={piece} />
        </>
      ) : (
        ", in the page's own content"
      )}
      <div className="finding-pages mono">
        {paths.slice(0, MOST_NAMED).map((path) => (
          <Link key={path} to={linkTo("preview", { path, width, ...(slot ? { target: slot } : {}) })}>
            {path}
          </Link>
        ))}
        {paths.length > MOST_NAMED && <span>and {count(paths.length - MOST_NAMED, "more layout")}</span>}
      </div>
    </li>
  );
}
