import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import { Chooser } from "../parts/controls";
import { ColourField } from "./ColourField";
import type { Item, Look } from "./content";

interface Props {
  item: Item;
  name: string;
  palette: string[];
  onChange: (item: Item) => void;
}

const SPACES = [
  ["", "usual"],
  ["none", "none"],
  ["small", "small"],
  ["medium", "medium"],
  ["large", "large"],
] as const;
const ALIGNS = [
  ["", "as its column"],
  ["start", "at the start"],
  ["center", "in the middle"],
  ["end", "at the end"],
] as const;
const SCREENS = ["phone", "tablet", "desktop"];

/** The look that every item can have: room, place, colours, and at which widths it shows. */
export function LookFields({ item, name, palette, onChange }: Props) {
  const look = item.look ?? {};
  const set = (changes: Look) => {
    const next = Object.fromEntries(
      Object.entries({ ...look, ...changes }).filter(([, value]) => value && String(value) !== ""),
    );
    const { look: _, ...rest } = item;
    onChange((Object.keys(next).length ? { ...rest, look: next } : rest) as Item);
  };
  const hidden = look.hide ?? [];
  return (
    <section aria-label={`Look of ${name}`}>
      <h3>Look</h3>
      <div className="item-part">
        <span className="mute">room around</span>
        <Chooser
          label={`${name}: room around`}
          value={(look.space ?? "") as (typeof SPACES)[number][0]}
          options={SPACES}
          onChange={(space) => set({ space })}
        />
      </div>
      <div className="item-part">
        <span className="mute">stands</span>
        <Chooser
          label={`${name}: stands`}
          value={(look.align ?? "") as (typeof ALIGNS)[number][0]}
          options={ALIGNS}
          onChange={(align) => set({ align })}
        />
      </div>
      {(["background", "ink"] as const).map((key) => (
        <div className="item-part" key={key}>
          <span className="mute">{key === "ink" ? "ink" : "ground"}</span>
          <ColourField
            label={`${name}: ${key === "ink" ? "ink" : "ground"}`}
            value={look[key] ?? ""}
            palette={palette}
            onChange={(value) => set({ [key]: value })}
          />
        </div>
      ))}
      <div className="item-part">
        <span className="mute">shown on</span>
        <span className="row" style={{ flexWrap: "wrap" }}>
          {SCREENS.map((screen) => (
            <FormControlLabel
              key={screen}
              label={screen}
              control={
                <Checkbox
                  checked={!hidden.includes(screen)}
                  onChange={(_, on) =>
                    set({ hide: on ? hidden.filter((one) => one !== screen) : [...hidden, screen] })
                  }
                />
              }
            />
          ))}
        </span>
      </div>
    </section>
  );
}
