import Button from "@mui/material/Button";
import { useState } from "react";
import type { Shapes } from "../api/client";
import { SettingValue, usualValue } from "../parts/SettingValue";
import { useSite } from "../parts/site";
import { settingOf, targetName, valueText } from "../parts/words";
import type { Pins } from "./usePins";

interface Props {
  found: Shapes["TraceInfo"];
  pins: Pins;
}

/** A setting of this page alone: its value, and the way back to what the site says. */
export function PinSetting({ found, pins }: Props) {
  const site = useSite();
  const setting = site.settings.find((one) => one.name === settingOf(found.target));
  if (!setting) return null;
  const { value } = found.outcome;
  const priority = found.pin.wins ? null : found.pin.priority;
  return (
    <>
      <p className="mute">
        {setting.help && `${setting.help}. `}The site says {valueText(usualValue(setting))}.
      </p>
      <PinnedValue
        key={String(value)}
        setting={setting}
        value={value}
        onPin={(wanted) =>
          pins.pin(found.path, { do: "set", setting: setting.name, value: wanted }, priority)
        }
      />
      {found.pin.rule !== null && (
        <Button variant="outlined" onClick={() => pins.unpin(found.path, found.target)}>
          As the site
        </Button>
      )}
    </>
  );
}

interface PinnedValueProps {
  setting: Shapes["SettingTree"];
  value: unknown;
  onPin: (value: unknown) => void;
}

function PinnedValue({ setting, value, onPin }: PinnedValueProps) {
  const [wanted, setWanted] = useState(value);
  return (
    <div className="row" style={{ flexWrap: "wrap", marginBottom: 8 }}>
      <SettingValue
        setting={setting}
        label={`${targetName(setting.name)} on this page`}
        value={wanted}
        onChange={setWanted}
      />
      <Button variant="outlined" onClick={() => onPin(wanted)}>
        Set it here
      </Button>
    </div>
  );
}
