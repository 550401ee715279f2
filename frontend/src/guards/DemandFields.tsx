import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import type { Shapes } from "../api/client";
import { itemTypesQuery } from "../api/queries";
import { Line } from "../conditions/Sentence";
import { ChoosePiece } from "../parts/ChoosePiece";
import { Chooser } from "../parts/controls";
import { Opening } from "../parts/Opening";
import { SettingValue, usualValue } from "../parts/SettingValue";
import { usePieces, useSite } from "../parts/site";
import { KIND_ORDER, kindFor, targetName, valueText } from "../parts/words";
import type { Demand } from "./guardTree";

/** What is asked of: a slot, the template, a setting by `setting:NAME`, or the whole page. */
type Of = string;
const PAGE = "page";

const ASKS: Record<"slot" | "template" | "setting" | "page", (readonly [Demand["is"], string])[]> = {
  slot: [
    ["shows", "shows something"],
    ["bare", "shows nothing"],
    ["holds", "shows"],
    ["lacks", "does not show"],
    ["is", "shows nothing else than"],
  ],
  page: [
    ["holds", "shows"],
    ["lacks", "does not show"],
    ["at-most", "shows at most"],
  ],
  template: [["is", "is"]],
  setting: [["is", "is"]],
};

const ofDemand = (demand: Demand): Of => {
  if (demand.slot) return demand.slot;
  if (demand.setting) return `setting:${demand.setting}`;
  return demand.templates || demand.is === "is" ? "template" : PAGE;
};

const sortOf = (of: Of) =>
  of === PAGE || of === "template" ? of : of.startsWith("setting:") ? "setting" : "slot";

interface Props {
  demand: Demand;
  onChange: (demand: Demand) => void;
}

/** What has to stay so, as the end of the guard's sentence. */
export function DemandFields({ demand, onChange }: Props) {
  const site = useSite();
  const of = ofDemand(demand);
  const sort = sortOf(of);
  const places: Of[] = [
    PAGE,
    ...site.slots,
    "template",
    ...site.settings.map((one) => `setting:${one.name}`),
  ];
  const asked = (place: Of): Partial<Demand> => {
    if (place === PAGE || place === "template") return {};
    return place.startsWith("setting:") ? { setting: place.slice("setting:".length) } : { slot: place };
  };
  const choosePlace = (place: Of) => {
    const kind = sortOf(place);
    const is = ASKS[kind].some(([known]) => known === demand.is)
      ? demand.is
      : (ASKS[kind][0] as [Demand["is"], string])[0];
    const kept = kind === sort && sort !== "setting" ? { pieces: demand.pieces ?? [] } : {};
    onChange({ is, ...asked(place), ...(place === "template" ? { templates: [] } : kept) });
  };
  const chooseAsk = (is: Demand["is"]) => {
    const named = is === "shows" || is === "bare" ? {} : { pieces: demand.pieces ?? [] };
    onChange({ is, ...asked(of), ...named, ...(is === "at-most" ? { most: demand.most ?? 1 } : {}) });
  };
  const setting = site.settings.find((one) => `setting:${one.name}` === of);
  return (
    <Line lead="to stay so">
      <span className="row" style={{ display: "inline-flex", flexWrap: "wrap" }}>
        <Chooser
          label="What the guard is about"
          value={of}
          options={places.map((one) => [one, one === PAGE ? "The page" : targetName(one)] as const)}
          onChange={choosePlace}
        />
        <Chooser label="What has to be so" value={demand.is} options={ASKS[sort]} onChange={chooseAsk} />
        {demand.is === "at-most" && <Counted demand={demand} onChange={onChange} />}
        {sort === "template" && (
          <Named
            key="templates"
            slugs={demand.templates ?? []}
            kinds={["template"]}
            onChange={(templates) => onChange({ ...demand, templates })}
          />
        )}
        {(demand.is === "holds" || demand.is === "lacks" || (demand.is === "is" && sort === "slot")) && (
          <Named
            slugs={demand.pieces ?? []}
            kinds={
              demand.is === "is" ? [kindFor(of), "widget"] : KIND_ORDER.filter((one) => one !== "template")
            }
            onChange={(pieces) => onChange({ ...demand, pieces })}
          />
        )}
        {setting && (
          <Values
            setting={setting}
            values={demand.values ?? []}
            onChange={(values) => onChange({ ...demand, values })}
          />
        )}
      </span>
    </Line>
  );
}

/** Pieces by their names, each a token that goes at a click, and one more from the shelf. */
function Named({
  slugs,
  kinds,
  onChange,
}: {
  slugs: string[];
  kinds: string[];
  onChange: (slugs: string[]) => void;
}) {
  const { bySlug } = usePieces();
  return (
    <>
      {slugs.map((slug) => (
        <button
          key={slug}
          type="button"
          className="token"
          aria-label={`Take out ${bySlug.get(slug)?.name ?? slug}`}
          title="Take it out"
          onClick={() => onChange(slugs.filter((one) => one !== slug))}
        >
          <i className="swatch" style={{ background: bySlug.get(slug)?.colour }} />{" "}
          {bySlug.get(slug)?.name ?? slug} ×
        </button>
      ))}
      <Opening text="+ piece" about="A piece for the guard" size="small">
        {(close) => (
          <ChoosePiece
            label="Piece for the guard"
            kinds={[...new Set(kinds)]}
            onChoose={(slug) => {
              close();
              if (!slugs.includes(slug)) onChange([...slugs, slug]);
            }}
          />
        )}
      </Opening>
    </>
  );
}

/** So many at the most, of what. */
function Counted({ demand, onChange }: Props) {
  const types = useQuery(itemTypesQuery).data?.items ?? [];
  const what = demand.kind ? `kind:${demand.kind}` : demand.item ? `item:${demand.item}` : "pieces";
  const options = [
    ["pieces", "of these"] as const,
    ...KIND_ORDER.filter((kind) => kind !== "template").map(
      (kind) => [`kind:${kind}`, `of any ${kind}`] as const,
    ),
    ...types.map((type) => [`item:${type.type}`, `with the item ${type.name.toLowerCase()}`] as const),
  ];
  const choose = (chosen: string) => {
    const [sort, name = ""] = chosen.split(":");
    const of: Partial<Demand> =
      sort === "kind"
        ? { kind: name as NonNullable<Demand["kind"]> }
        : sort === "item"
          ? { item: name }
          : { pieces: [] };
    onChange({ is: "at-most", most: demand.most ?? 1, ...of });
  };
  return (
    <>
      <TextField
        type="number"
        sx={{ width: 64 }}
        value={demand.most ?? 1}
        slotProps={{ htmlInput: { "aria-label": "How many at most", min: 0, max: 999 } }}
        onChange={(event) =>
          onChange({ ...demand, most: Math.max(0, Math.trunc(Number(event.target.value)) || 0) })
        }
      />
      <span>pieces</span>
      <Chooser label="Of what" value={what} options={options} onChange={choose} />
      {what === "pieces" && (
        <Named
          slugs={demand.pieces ?? []}
          kinds={KIND_ORDER.filter((kind) => kind !== "template")}
          onChange={(pieces) => onChange({ ...demand, pieces })}
        />
      )}
    </>
  );
}

/** The values that a setting may have: of a choice any of them, else the one that is given. */
function Values({
  setting,
  values,
  onChange,
}: {
  setting: Shapes["SettingTree"];
  values: unknown[];
  onChange: (values: unknown[]) => void;
}) {
  if (setting.type !== "choice") {
    return (
      <SettingValue
        setting={setting}
        label={`Value of ${setting.name}`}
        value={values[0] ?? usualValue(setting)}
        onChange={(value) => onChange([value])}
      />
    );
  }
  return (
    <fieldset className="row values">
      <legend className="visually-hidden">Values of {setting.name}</legend>
      {(setting.choices ?? []).map((one) => (
        <button
          key={one}
          type="button"
          className={values.includes(one) ? "token" : "token add"}
          aria-pressed={values.includes(one)}
          onClick={() =>
            onChange(values.includes(one) ? values.filter((known) => known !== one) : [...values, one])
          }
        >
          {valueText(one)}
        </button>
      ))}
    </fieldset>
  );
}
