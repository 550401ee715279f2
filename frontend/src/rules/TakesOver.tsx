import type { Shapes } from "../api/client";
import { count, targetName } from "../parts/words";

/** From which rules a rule takes over what, and on how many pages. */
export function TakesOver({ taken }: { taken: Shapes["TakenInfo"][] }) {
  if (taken.length === 0) return null;
  const targets = [...new Set(taken.map((one) => one.target))];
  return (
    <section className="takes-over" aria-label="What it takes over">
      <span className="mute">Through this lens it takes over</span>
      {targets.map((target) => (
        <div key={target}>
          {targetName(target)} <span className="mute">from</span>{" "}
          {taken
            .filter((one) => one.target === target)
            .map(({ rule, pages }) => `${rule ?? nobody(target)} on ${count(pages, "page")}`)
            .join(", ")}
        </div>
      ))}
    </section>
  );
}

/** What stands where no rule decides: nothing in a slot, else what the site has for all. */
const nobody = (target: string) =>
  target === "template" || target.startsWith("setting:") ? "what the site has for all" : "nothing";
