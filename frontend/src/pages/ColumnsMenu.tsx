import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import { useMemo } from "react";
import type { Shapes } from "../api/client";
import { pageNumbers } from "../api/pageBits";
import { Opening } from "../parts/Opening";
import { useSite } from "../parts/site";
import { count, targetName } from "../parts/words";

interface Props {
  /** The columns that are shown. */
  names: string[];
  /** The columns that are not shown and have something on some page. */
  others: Shapes["OtherTarget"][];
  /** The pages that a search left; null for all. */
  shown: Set<number> | null;
  onChange: (names: string[]) => void;
}

/** Which columns are shown. Where a rule acts in one that is not, that is said. */
export function ColumnsMenu({ names, others, shown, onChange }: Props) {
  const acting = useMemo(
    () => others.filter(({ target, pages }) => !names.includes(target) && (!shown || touches(pages, shown))),
    [others, names, shown],
  );
  const site = useSite();
  const all = ["template", ...site.slots, ...site.settings.map((setting) => `setting:${setting.name}`)];
  // A column that is put in comes before the first of those that the site has after it.
  const shownAt = (name: string) => {
    const after = names.findIndex((known) => all.indexOf(known) > all.indexOf(name));
    return after < 0 ? names.length : after;
  };
  const toggle = (name: string) =>
    onChange(
      names.includes(name)
        ? names.filter((known) => known !== name)
        : names.toSpliced(shownAt(name), 0, name),
    );
  const move = (name: string, by: number) => {
    const from = names.indexOf(name);
    onChange(names.toSpliced(from, 1).toSpliced(from + by, 0, name));
  };
  const hidden = all.filter((name) => !names.includes(name));
  return (
    <Opening
      text={acting.length ? `Columns, ${acting.length} hidden in use` : "Columns"}
      about="Columns"
      title={
        acting.length
          ? `${count(acting.length, "hidden column has", "hidden columns have")} something on these pages`
          : undefined
      }
    >
      {() => (
        <ul className="columns">
          {[...names, ...hidden].map((name) => (
            <li key={name} className="row">
              <FormControlLabel
                className="grow"
                label={
                  <>
                    {targetName(name)}
                    {acting.some((other) => other.target === name) && (
                      <span className="mute"> · has something here</span>
                    )}
                  </>
                }
                control={<Checkbox checked={names.includes(name)} onChange={() => toggle(name)} />}
              />
              {names.includes(name) && (
                <>
                  <Step name={name} by={-1} off={names[0] === name} onMove={move} />
                  <Step name={name} by={1} off={names.at(-1) === name} onMove={move} />
                </>
              )}
            </li>
          ))}
        </ul>
      )}
    </Opening>
  );
}

interface StepProps {
  name: string;
  by: 1 | -1;
  off: boolean;
  onMove: (name: string, by: number) => void;
}

/** One place to the left or to the right. */
function Step({ name, by, off, onMove }: StepProps) {
  const where = by < 0 ? "left" : "right";
  return (
    <Button
      variant="text"
      disabled={off}
      sx={{ minWidth: 28 }}
      aria-label={`${targetName(name)} one column to the ${where}`}
      onClick={() => onMove(name, by)}
    >
      {by < 0 ? "←" : "→"}
    </Button>
  );
}

/** Whether some pages are among those that are shown. */
const touches = (pages: string, shown: Set<number>) => pageNumbers(pages).some((number) => shown.has(number));
