import Button from "@mui/material/Button";
import { Chooser, LabelledField } from "../parts/controls";
import { useSite } from "../parts/site";
import { targetName } from "../parts/words";
import { type Binding, type Fit, fitWords, HOWS, isAmiss } from "./fit";

interface Props {
  binding: Binding;
  fit: Fit | undefined;
  problem: string | undefined;
  shown: boolean;
  onShow: () => void;
  onChange: (binding: Binding) => void;
  onRemove: () => void;
}

/** One binding: a slot, the element, how the slot lies to it, and for which pages. */
export function BindingRow({ binding, fit, problem, shown, onShow, onChange, onRemove }: Props) {
  const site = useSite();
  const name = binding.slot ? targetName(binding.slot) : "the new binding";
  const slots = [...new Set([...site.slots, binding.slot].filter(Boolean))];
  const wrong = problem ?? fit?.problem;
  return (
    <section className={shown ? "item-row binding on" : "item-row binding"} aria-label={`Binding of ${name}`}>
      <div className="binding-row">
        <Chooser
          label={`Slot of ${name}`}
          value={binding.slot}
          nothing="Choose a slot"
          options={slots.map((slot) => [slot, targetName(slot)] as const)}
          onChange={(slot) => onChange({ ...binding, slot })}
        />
        <Chooser
          label={`How ${name} lies to the element`}
          value={binding.how ?? "element"}
          options={HOWS}
          onChange={(how) => onChange({ ...binding, how })}
        />
        <LabelledField
          mono
          label={`Selector of ${name}`}
          placeholder="header.site"
          value={binding.selector}
          onChange={(selector) => onChange({ ...binding, selector })}
        />
        <LabelledField
          mono
          label={`Pages of ${name}`}
          placeholder="on all pages"
          value={binding.where ?? ""}
          onChange={(where) => onChange({ ...binding, where })}
        />
        <Button
          variant="text"
          aria-pressed={shown}
          disabled={!binding.selector || !binding.slot}
          onClick={onShow}
        >
          Show
        </Button>
        <Button
          variant="text"
          color="inherit"
          aria-label={`Remove the binding of ${name}`}
          onClick={onRemove}
        >
          ×
        </Button>
      </div>
      {wrong ? (
        <p className="field-error" role="alert">
          {wrong}
        </p>
      ) : (
        fit && (
          <p className={isAmiss(fit) ? "fit amiss" : "fit"}>
            {fitWords(fit)}
            {fit.missed.length > 0 && <span className="mute"> · not on {fit.missed.join(", ")}</span>}
          </p>
        )
      )}
    </section>
  );
}
