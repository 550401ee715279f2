import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import { useMemo, useState } from "react";
import type { Shapes } from "../api/client";
import { useSite } from "../parts/site";
import { count, targetName } from "../parts/words";

type Column = Shapes["TargetColumn"];

interface Props {
  /** The columns that are shown. */
  names: string[];
  columns: Column[];
  /** The pages that a search left; null for all. */
  shown: Set<number> | null;
  onChange: (names: string[]) => void;
}

/** Which columns are shown. Where a rule acts in one that is not, that is said. */
export function ColumnsMenu({ names, columns, shown, onChange }: Props) {
  const acting = useMemo(
    () => columns.filter((column) => !names.includes(column.target) && actsOn(column, shown)),
    [columns, names, shown],
  );
  const site = useSite();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const all = ["template", ...site.slots, ...site.settings.map((setting) => `setting:${setting.name}`)];
  const toggle = (name: string) =>
    onChange(
      names.includes(name)
        ? names.filter((known) => known !== name)
        : all.filter((one) => one === name || names.includes(one)),
    );
  return (
    <>
      <Button
        variant="text"
        title={
          acting.length
            ? `${count(acting.length, "hidden column has", "hidden columns have")} something on these pages`
            : undefined
        }
        aria-haspopup="menu"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        {acting.length ? `Columns, ${acting.length} hidden in use` : "Columns"}
      </Button>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {all.map((name) => (
          <MenuItem
            dense
            key={name}
            role="menuitemcheckbox"
            aria-checked={names.includes(name)}
            onClick={() => toggle(name)}
          >
            <Checkbox
              disableRipple
              tabIndex={-1}
              checked={names.includes(name)}
              slotProps={{ input: { "aria-hidden": true } }}
            />
            {targetName(name)}
            {acting.some((column) => column.target === name) && (
              <span className="mute">&nbsp;· has something here</span>
            )}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

/** Whether a rule decides or adds something in a column, on one of the pages that are shown. */
function actsOn({ codes, outcomes }: Column, shown: Set<number> | null): boolean {
  const acts = outcomes.map((outcome) => outcome.by !== null || outcome.state === "filled");
  const set = outcomes.map((outcome) => outcome.value !== null && outcome.by === null);
  return codes.some((code, number) => acts[code] && !set[code] && (shown === null || shown.has(number)));
}
