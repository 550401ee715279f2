import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useId } from "react";
import type { Shapes } from "../api/client";
import { readQueryQuery } from "../api/ruleQueries";
import { QueryError } from "../parts/QueryField";
import { useSite } from "../parts/site";
import { useDebounced } from "../parts/useDebounced";
import type { ConditionPart } from "./condition";

// What writing in colours takes is fetched when it is first needed.
const QueryCode = lazy(() => import("./QueryCode"));

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
  const problem = read.data?.problem;
  const id = useId();
  return (
    <>
      <span className="mute" style={{ paddingTop: 7 }}>
        {label}
      </span>
      <div>
        <Suspense fallback={<div className="query-code coming mono">{text}</div>}>
          <QueryCode
            domain={part.domain}
            label={name}
            value={text}
            problem={problem}
            describedBy={`${id}-problem`}
            onChange={(changed) => onChange(part, changed)}
          />
        </Suspense>
        {problem && <QueryError id={`${id}-problem`} problem={problem} />}
      </div>
    </>
  );
}
