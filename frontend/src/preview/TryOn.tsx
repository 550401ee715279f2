import Button from "@mui/material/Button";
import { useState } from "react";
import type { Shapes } from "../api/client";
import { pinAction } from "../pages/newRule";
import { ChoosePiece } from "../parts/ChoosePiece";
import { Chooser } from "../parts/controls";
import { Opening } from "../parts/Opening";
import { SettingValue, usualValue } from "../parts/SettingValue";
import { usePieces, useSite } from "../parts/site";
import { kindFor, settingOf, targetName } from "../parts/words";

type Action = Shapes["ActionTree"];

interface Props {
  /** The targets of the page at hand. */
  targets: Shapes["PreviewTarget"][];
  onTry: (action: Action) => void;
}

/** Any piece in any slot, any template, any setting: seen on the page at hand, without a rule and without an edit. */
export function TryOn({ targets, onTry }: Props) {
  return (
    <Opening text="Try on …" variant="outlined" about="Try on">
      {(close) => (
        <Choices
          targets={targets}
          onTry={(action) => {
            close();
            onTry(action);
          }}
        />
      )}
    </Opening>
  );
}

function Choices({ targets, onTry }: Props) {
  const [target, setTarget] = useState("header");
  const { bySlug } = usePieces();
  const there = targets.find((one) => one.target === target);
  return (
    <div className="offers">
      <p className="mute">
        Shown on this page and those you go on to, as if a rule decided it. Nothing is edited.
      </p>
      <Chooser
        label="Where it is tried on"
        value={target}
        options={targets.map((one) => [one.target, targetName(one.target)] as const)}
        onChange={setTarget}
      />
      {settingOf(target) ? (
        <TriedValue key={target} name={settingOf(target)} value={there?.outcome.value} onTry={onTry} />
      ) : (
        <>
          <ChoosePiece
            key={target}
            kinds={[kindFor(target)]}
            label={`Piece for ${targetName(target)}`}
            current={there?.outcome.pieces[0]}
            onChoose={(slug) => onTry(pinAction(target, bySlug.get(slug) ?? null))}
          />
          {target !== "template" && (
            <Button variant="text" onClick={() => onTry(pinAction(target, null))}>
              Leave it empty
            </Button>
          )}
        </>
      )}
    </div>
  );
}

interface TriedValueProps {
  name: string;
  value: unknown;
  onTry: (action: Action) => void;
}

function TriedValue({ name, value, onTry }: TriedValueProps) {
  const setting = useSite().settings.find((one) => one.name === name);
  const [wanted, setWanted] = useState(value ?? (setting && usualValue(setting)));
  if (!setting) return null;
  return (
    <div className="row">
      <SettingValue setting={setting} label={targetName(name)} value={wanted} onChange={setWanted} />
      <Button variant="outlined" onClick={() => onTry({ do: "set", setting: name, value: wanted })}>
        Try it
      </Button>
    </div>
  );
}
