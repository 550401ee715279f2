import TextField from "@mui/material/TextField";
import type { Shapes } from "../api/client";
import { Chooser, LabelledField, Segments } from "./controls";

type Setting = Shapes["SettingTree"];

/** What a setting is where nobody has said anything. */
export function usualValue(setting: Setting): unknown {
  if (setting.default !== undefined && setting.default !== null) return setting.default;
  return { choice: setting.choices?.[0] ?? "", text: "", switch: false, number: 0 }[setting.type];
}

interface Props {
  setting: Setting;
  label: string;
  value: unknown;
  onChange: (value: unknown) => void;
}

/** The value of a page setting, by the type that the site declared it with. */
export function SettingValue({ setting, label, value, onChange }: Props) {
  switch (setting.type) {
    case "switch":
      return (
        <Segments
          label={label}
          value={value ? "on" : "off"}
          options={[["on", "on"] as const, ["off", "off"] as const]}
          onChange={(chosen) => onChange(chosen === "on")}
        />
      );
    case "choice":
      return (
        <Chooser
          label={label}
          value={String(value ?? "")}
          options={(setting.choices ?? []).map((one) => [one, one] as const)}
          onChange={onChange}
        />
      );
    case "number":
      return (
        <TextField
          type="number"
          value={String(value ?? 0)}
          sx={{ width: 110 }}
          slotProps={{ htmlInput: { "aria-label": label, step: "any" } }}
          onChange={(event) => onChange(Number(event.target.value))}
        />
      );
    case "text":
      return <LabelledField label={label} value={String(value ?? "")} onChange={onChange} />;
  }
}
