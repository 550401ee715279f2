import Button from "@mui/material/Button";
import { Chooser, LabelledField } from "../parts/controls";
import { useSite } from "../parts/site";
import { targetName } from "../parts/words";
import type { Lock } from "./factsTree";

interface Props {
  locks: Lock[];
  onChange: (locks: Lock[]) => void;
}

/** The places on a page that another system owns: whose they are, and why no rule changes them. */
export function LocksField({ locks, onChange }: Props) {
  const site = useSite();
  const free = site.slots.filter((slot) => !locks.some((lock) => lock.slot === slot));
  const change = (place: number, changes: Partial<Lock>) =>
    onChange(locks.map((lock, at) => (at === place ? { ...lock, ...changes } : lock)));
  return (
    <div className="locks">
      {locks.map((lock, place) => (
        <fieldset key={lock.slot}>
          <legend className="row">
            {targetName(lock.slot)}
            <Button
              variant="text"
              aria-label={`Unlock ${targetName(lock.slot)}`}
              onClick={() => onChange(locks.filter((_, at) => at !== place))}
            >
              Unlock
            </Button>
          </legend>
          <LabelledField
            label={`Who owns ${targetName(lock.slot)}`}
            placeholder="Who owns it"
            value={lock.owner}
            onChange={(owner) => change(place, { owner })}
          />
          <LabelledField
            label={`Why ${targetName(lock.slot)} is locked`}
            placeholder="Why no rule changes it"
            value={lock.why}
            onChange={(why) => change(place, { why })}
          />
        </fieldset>
      ))}
      <Chooser
        label="Lock a place"
        nothing="Lock a place …"
        value=""
        options={free.map((slot) => [slot, targetName(slot)] as const)}
        onChange={(slot) => onChange([...locks, { slot, owner: "", why: "" }])}
      />
    </div>
  );
}
