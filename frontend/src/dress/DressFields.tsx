import Button from "@mui/material/Button";
import Switch from "@mui/material/Switch";
import type { Shapes } from "../api/client";
import { LabelledField, PlainField } from "../parts/controls";
import { isFirst, isLast, SignButtons } from "../parts/SignButtons";
import { ENOUGH, longColour, readings } from "./contrast";
import type { Dress } from "./DressView";
import { FontField } from "./FontField";

type Form = "light" | "dark";

interface Props {
  dress: Dress;
  parts: Shapes["DressParts"];
  /** The form whose colours are set. */
  form: Form;
  problem: (pointer: string) => string | undefined;
  onForm: (form: Form) => void;
  onChange: (dress: Dress) => void;
  onMove: (by: number) => void;
  isFirst: boolean;
  isLast: boolean;
  onRemove: () => void;
}

const COLOUR_WORDS: Record<string, string> = {
  paper: "ground of pages",
  ink: "text",
  soft: "soft ground, tables",
  line: "lines",
  brand: "brand, links",
  "on-brand": "text on brand",
  accent: "accent, marks",
  "on-accent": "text on accent",
};
const MEASURE_WORDS: Record<string, string> = {
  text: "width of text",
  page: "width of headers and footers",
  corner: "roundness of corners",
  gap: "room between things",
};
const FONT_WORDS: Record<string, string> = { text: "for text", head: "for headings and menus" };

/** What a dress is made of: colours with their contrast, light and dark, fonts, measures. */
export function DressFields(props: Props) {
  const { dress, parts, form, problem, onForm, onChange, onMove, onRemove } = props;
  const name = dress.name ?? "";
  const hasDark = Object.keys(dress.dark ?? {}).length > 0;
  const light = { ...parts.colours, ...dress.colours };
  const shown = form === "dark" ? { ...light, ...dress.dark } : light;
  const setColour = (colour: string, value: string) =>
    onChange(
      form === "dark"
        ? { ...dress, dark: { ...light, ...dress.dark, [colour]: value } }
        : { ...dress, colours: { ...dress.colours, [colour]: value } },
    );
  const setDark = (on: boolean) => {
    onChange({ ...dress, dark: on ? turned(light) : {} });
    onForm(on ? "dark" : "light");
  };
  const problems = ["/name", "/slug", "/colours", "/dark", "/fonts", "/measures"]
    .map(problem)
    .filter(Boolean);
  return (
    <section aria-label={`Dress ${name}`}>
      <div className="row">
        <PlainField
          className="name"
          label="Name of the dress"
          value={name}
          onChange={(text) => onChange({ ...dress, name: text })}
        />
        <SignButtons
          width={30}
          buttons={[
            ["Move the dress up", "↑", isFirst(props.isFirst), () => onMove(-1)],
            ["Move the dress down", "↓", isLast(props.isLast), () => onMove(1)],
          ]}
        />
        <Button variant="text" color="inherit" onClick={onRemove}>
          Remove
        </Button>
      </div>
      {problems.map((message) => (
        <p key={message} className="field-error" role="alert">
          {message}
        </p>
      ))}
      <h3>Colours{form === "dark" && ", in the dark"}</h3>
      <div className="row">
        <Switch
          size="small"
          checked={hasDark}
          slotProps={{ input: { "aria-label": "A dark form for devices that ask for one" } }}
          onChange={(_, on) => setDark(on)}
        />
        <span className="mute">a dark form for devices that ask for one</span>
      </div>
      {form === "dark" && !hasDark ? null : (
        <>
          <div className="dress-colours">
            {Object.keys(parts.colours).map((colour) => (
              <label key={colour} className="dress-colour">
                <input
                  type="color"
                  className="colour-well"
                  aria-label={`Colour ${colour}`}
                  value={longColour(shown[colour] ?? "#000000")}
                  onChange={(event) => setColour(colour, event.target.value)}
                />
                <span>
                  {COLOUR_WORDS[colour] ?? colour} <code>{colour}</code>
                </span>
                <LabelledField
                  mono
                  label={`Colour ${colour}, written`}
                  value={shown[colour] ?? ""}
                  onChange={(text) => setColour(colour, text)}
                />
              </label>
            ))}
          </div>
          <Contrast colours={shown} />
        </>
      )}
      <h3>Fonts</h3>
      {Object.keys(parts.fonts).map((use) => (
        <FontField
          key={use}
          label={`Font ${FONT_WORDS[use] ?? use}`}
          value={dress.fonts?.[use] ?? parts.fonts[use] ?? ""}
          families={parts.families}
          onChange={(font) => onChange({ ...dress, fonts: { ...dress.fonts, [use]: font } })}
        />
      ))}
      <h3>Measures</h3>
      {parts.measures.map((measure) => (
        <div key={measure.name} className="dress-measure">
          <span className="mute">{MEASURE_WORDS[measure.name] ?? measure.name}</span>
          <input
            type="range"
            aria-label={MEASURE_WORDS[measure.name] ?? measure.name}
            min={measure.least}
            max={measure.most}
            step={measure.most > 10 ? 1 : 0.1}
            value={dress.measures?.[measure.name] ?? measure.usual}
            onChange={(event) =>
              onChange({
                ...dress,
                measures: { ...dress.measures, [measure.name]: Number(event.target.value) },
              })
            }
          />
          <output>
            {dress.measures?.[measure.name] ?? measure.usual} {measure.unit}
          </output>
        </div>
      ))}
    </section>
  );
}

/** Which colours cannot be read on which, told while they are chosen. */
function Contrast({ colours }: { colours: Record<string, string> }) {
  const found = readings(
    Object.fromEntries(Object.entries(colours).map(([name, one]) => [name, longColour(one)])),
  );
  return (
    <ul className="dress-contrast" aria-label="Contrast">
      {found.map(({ what, ink, ground, ratio }) => (
        <li key={what}>
          <span className="specimen" style={{ color: ink, background: ground }}>
            Aa
          </span>
          <span className="grow">{what}</span>
          <span className={ratio < ENOUGH ? "bad" : "mute"}>
            {ratio.toFixed(1)} {ratio < ENOUGH && `of ${ENOUGH} that text needs`}
          </span>
        </li>
      ))}
    </ul>
  );
}

/** A palette to begin a dark form with: paper and ink turned round, the rest kept readable on it. */
function turned(light: Record<string, string>): Record<string, string> {
  return {
    ...light,
    paper: "#14191d",
    ink: "#e6eaec",
    soft: "#1f272c",
    line: "#35424a",
    brand: "#7cc0dc",
    "on-brand": "#0d1417",
  };
}
