import { useQuery } from "@tanstack/react-query";
import type { Shapes } from "../api/client";
import { readQueryQuery } from "../api/ruleQueries";
import { QueryField } from "../parts/QueryField";
import { useSite } from "../parts/site";
import { useDebounced } from "../parts/useDebounced";
import { useSteadyCall } from "../parts/useSteady";
import type { ConditionPart } from "./condition";

/** One query of a condition, as text. */
export function TextPart({
  part,
  label,
  name = `${label}, as text`,
  condition,
  onChange,
}: {
  part: ConditionPart;
  label: string;
  /** What the field is called, where several of them stand in a view. */
  name?: string;
  condition: Shapes["ConditionTree"];
  onChange: (part: ConditionPart, text: string) => void;
}) {
  const site = useSite();
  const text = part.read(condition);
  const read = useQuery(readQueryQuery(site.slug, useDebounced(text, 60), part.domain));
  const change = useSteadyCall((changed: string) => onChange(part, changed));
  return (
    <>
      <span className="mute" style={{ paddingTop: 7 }}>
        {label}
      </span>
      <QueryField
        multiline
        domain={part.domain}
        label={name}
        value={text}
        problem={read.data?.problem}
        onChange={change}
      />
    </>
  );
}
