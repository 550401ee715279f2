import { useQuery } from "@tanstack/react-query";
import { rulesQuery } from "../api/ruleQueries";
import { useLens, useSite } from "../parts/site";
import { inOrder, priorityOf } from "./bands";

/** A priority in words: how it stands to the usual one, and which rules are next above and below it. */
export function PriorityWords({ priority, id }: { priority: number; id: number | null }) {
  const site = useSite();
  const rules = useQuery(rulesQuery(site.slug, useLens())).data ?? [];
  const others = inOrder(rules).filter((row) => row.id !== id);
  const above = others.findLast((row) => priorityOf(row) > priority);
  const below = others.find((row) => priorityOf(row) < priority);
  const told = [
    priority > 0 ? "above the usual 0" : priority < 0 ? "below the usual 0" : "the usual",
    above && `under ${above.rule.name} (${priorityOf(above)})`,
    below && `over ${below.rule.name} (${priorityOf(below)})`,
  ];
  return (
    <span className="mute" style={{ fontSize: 12.5 }}>
      {told.filter(Boolean).join(" · ")}
    </span>
  );
}
