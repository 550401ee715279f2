import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { answer, api, type Shapes } from "../api/client";
import { settingsQuery } from "../api/queries";
import { ConflictBox } from "../parts/ConflictBox";
import { Chooser, LabelledField } from "../parts/controls";
import { useMessage } from "../parts/messages";
import { SaveBar } from "../parts/SaveBar";
import { SettingValue, usualValue } from "../parts/SettingValue";
import { useLinkTo, useSite } from "../parts/site";
import { useDraft } from "../parts/useDraft";
import { Weighed } from "../publish/Weighed";
import "../pieces/pieces.css";

type Setting = Shapes["SettingTree"];

interface Declared {
  name: string;
  items: Setting[];
}

const NAME = "Page settings";
const TYPES = ["choice", "text", "switch", "number"] as const;
const NEW: Setting = { name: "", type: "text", default: "" };

async function sendSettings(site: string, { items }: Declared, version: number) {
  const params = { path: { site }, header: { "If-Match": `"${version}"` } };
  const made = await answer(api.PUT("/api/sites/{site}/settings", { params, body: { items } }));
  return { id: "declared", version: made.version };
}

/** The settings that the site declares for its pages. */
export function Settings() {
  const site = useSite();
  const declared = useQuery(settingsQuery(site.slug)).data;
  return declared ? <SettingsForm declared={declared} /> : null;
}

function SettingsForm({ declared }: { declared: Shapes["SettingsInfo"] }) {
  const site = useSite();
  const tell = useMessage();
  const editing = useDraft<Declared>({
    kind: "settings",
    id: "declared",
    saved: { tree: { name: NAME, items: declared.items }, version: declared.version },
    blank: { name: NAME, items: [] },
    same: (a, b) => JSON.stringify(a.items) === JSON.stringify(b.items),
    send: (tree, version) => sendSettings(site.slug, tree, version),
  });
  const saved = () => tell("Saved the settings. They are in the draft, not live yet.");
  const set = (change: (items: Setting[]) => Setting[]) =>
    editing.edit((newest) => ({ ...newest, items: change(newest.items) }));
  return (
    <section aria-label={NAME} className="settings">
      <h2>{NAME}</h2>
      <p className="mute">
        What pages can differ in besides their pieces. A page has the value given here unless a rule or a pin
        sets another.
      </p>
      <ConflictBox editing={editing} what="settings" onSaved={saved} />
      {editing.tree.items.map((setting, place) => (
        <SettingRow
          // biome-ignore lint/suspicious/noArrayIndexKey: a setting is its place while its name is typed
          key={place}
          setting={setting}
          problem={editing.problemUnder(`/settings/${place}`)?.message}
          onChange={(next) => set((items) => items.map((one, at) => (at === place ? next : one)))}
          onRemove={() => set((items) => items.filter((_, at) => at !== place))}
        />
      ))}
      <button type="button" className="token add" onClick={() => set((items) => [...items, NEW])}>
        + setting
      </button>
      <SaveBar
        editing={editing}
        what="settings"
        onSave={async () => (await editing.save()) && saved()}
        onDrop={editing.drop}
      >
        <Weighed editing={editing} to="settings" body={{ items: editing.tree.items }} />
      </SaveBar>
    </section>
  );
}

interface RowProps {
  setting: Setting;
  problem: string | undefined;
  onChange: (setting: Setting) => void;
  onRemove: () => void;
}

function SettingRow({ setting, problem, onChange, onRemove }: RowProps) {
  const linkTo = useLinkTo();
  const name = setting.name || "the new setting";
  const retype = (type: Setting["type"]) => {
    const retyped: Setting = {
      name: setting.name,
      type,
      ...(type === "choice" ? { choices: ["yes", "no"] } : {}),
      ...(setting.help ? { help: setting.help } : {}),
    };
    onChange({ ...retyped, default: usualValue(retyped) });
  };
  const rechoose = (text: string) => {
    const choices = text.split(",").map((one) => one.trim());
    onChange({
      ...setting,
      choices,
      default: choices.includes(String(setting.default)) ? setting.default : choices[0],
    });
  };
  return (
    <section className="item-row" aria-label={`Setting ${name}`}>
      <div className="setting-row">
        <LabelledField
          mono
          label={`Name of ${name}`}
          placeholder="name-it-so"
          value={setting.name}
          onChange={(text) => onChange({ ...setting, name: text })}
        />
        <Chooser
          label={`Type of ${name}`}
          value={setting.type}
          options={TYPES.map((type) => [type, type] as const)}
          onChange={retype}
        />
        <SettingValue
          setting={setting}
          label={`Default of ${name}`}
          value={usualValue(setting)}
          onChange={(value) => onChange({ ...setting, default: value })}
        />
        <Button
          variant="text"
          color="inherit"
          disabled={setting.name === "dress"}
          title={setting.name === "dress" ? "It stays as long as the site has dresses" : undefined}
          aria-label={`Take away ${name}`}
          onClick={onRemove}
        >
          ×
        </Button>
      </div>
      {setting.type === "choice" && setting.name === "dress" && (
        <p className="mute">
          Its choices are the site’s dresses: {(setting.choices ?? []).join(", ")}.{" "}
          <Link to={linkTo("site/dress")}>To the dresses</Link>
        </p>
      )}
      {setting.type === "choice" && setting.name !== "dress" && (
        <div className="item-part">
          <span className="mute">choices</span>
          <LabelledField
            label={`Choices of ${name}, parted by commas`}
            value={(setting.choices ?? []).join(", ")}
            onChange={rechoose}
          />
        </div>
      )}
      <div className="item-part">
        <span className="mute">help</span>
        <LabelledField
          label={`What ${name} is for`}
          placeholder="What is it for?"
          value={setting.help ?? ""}
          onChange={(help) => onChange({ ...setting, help })}
        />
      </div>
      {problem && (
        <p className="field-error" role="alert">
          {problem}
        </p>
      )}
    </section>
  );
}
