import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import TextField from "@mui/material/TextField";
import { useEffect, useState } from "react";
import type { Shapes } from "../api/client";
import { Chooser, Segments } from "./controls";
import { useSite } from "./site";

type Facts = Shapes["LensFacts"];

interface Props {
  facts: Facts;
  change: (facts: Facts) => void;
}

const SIGNED: [Facts["signed"], string][] = [
  ["out", "Signed out"],
  ["in", "Signed in"],
];
const DEVICES: Facts["device"][] = ["desktop", "tablet", "phone"];
const BROWSERS: [Facts["browser"], string][] = [
  ["other", "Any other"],
  ["chrome", "Chrome"],
  ["edge", "Edge"],
  ["firefox", "Firefox"],
  ["safari", "Safari"],
];

/** Everything that can be so about a visitor. What is shown here changes at once; what was set elsewhere stays. */
export function LensForm({ facts, change }: Props) {
  const site = useSite();
  const set = (changes: Partial<Facts>) => change({ ...facts, ...changes });
  const roles = [...new Set([...site.roles, ...facts.roles])];
  const toggleRole = (role: string) =>
    set({
      signed: "in",
      roles: facts.roles.includes(role) ? facts.roles.filter((one) => one !== role) : [...facts.roles, role],
    });
  return (
    <>
      <p className="mute">The site is shown as this visitor sees it.</p>
      <div className="row" style={{ marginTop: 10, flexWrap: "wrap" }}>
        <Segments
          label="Sign-in"
          options={SIGNED}
          value={facts.signed}
          onChange={(signed) => set({ signed })}
        />
        <Segments
          label="Device"
          options={DEVICES.map((device) => [device, device])}
          value={facts.device}
          onChange={(device) => set({ device })}
        />
      </div>
      {roles.length > 0 && (
        <fieldset className="lens-field">
          <legend className="lens-label">Roles</legend>
          <div className="row" style={{ flexWrap: "wrap" }}>
            {roles.map((role) => (
              <FormControlLabel
                key={role}
                label={role}
                control={
                  <Checkbox
                    checked={facts.signed === "in" && facts.roles.includes(role)}
                    onChange={() => toggleRole(role)}
                  />
                }
              />
            ))}
          </div>
        </fieldset>
      )}
      <div className="lens-field">
        <span className="lens-label">Browser</span>
        <Chooser
          label="Browser"
          options={BROWSERS}
          value={facts.browser}
          onChange={(browser) => set({ browser })}
        />
      </div>
      <TextFact
        label="Reads languages"
        hint="best first: nb, en"
        value={facts.accepts.join(", ")}
        onChange={(text) => set({ accepts: text.split(/[\s,]+/).filter(Boolean) })}
      />
      <TextFact
        label="In the address"
        hint="campaign=spring ref=mail"
        value={Object.entries(facts.query)
          .map(([name, value]) => `${name}=${value}`)
          .join(" ")}
        onChange={(text) => set({ query: readParameters(text) })}
      />
      <TextFact
        label="Came from"
        hint="a host: news.example"
        value={facts.referrer}
        onChange={(referrer) => set({ referrer: referrer.trim() })}
      />
    </>
  );
}

/** `a=1 b=2` as names and values; a name without a value has the value 1. */
export function readParameters(text: string): Record<string, string> {
  const pairs = text
    .split(/[\s&]+/)
    .filter(Boolean)
    .map((pair) => {
      const at = pair.indexOf("=");
      return at < 0 ? [pair, "1"] : [pair.slice(0, at), pair.slice(at + 1)];
    });
  return Object.fromEntries(pairs.filter(([name, value]) => name && value));
}

interface TextFactProps {
  label: string;
  hint: string;
  value: string;
  onChange: (text: string) => void;
}

/** A fact that is typed; it counts when the field is left or Enter is pressed. */
function TextFact({ label, hint, value, onChange }: TextFactProps) {
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  const settle = () => text !== value && onChange(text);
  return (
    <div className="lens-field">
      <span className="lens-label">{label}</span>
      <TextField
        fullWidth
        placeholder={hint}
        value={text}
        slotProps={{ htmlInput: { "aria-label": label } }}
        onChange={(event) => setText(event.target.value)}
        onBlur={settle}
        onKeyDown={(event) => event.key === "Enter" && settle()}
      />
    </div>
  );
}
