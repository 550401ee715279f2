import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { guardsQuery } from "../api/queries";
import { useLinkTo, useSite } from "../parts/site";
import { GuardMark } from "./GuardMark";
import { Standing, standingWords } from "./Standing";
import "./guards.css";

/** The guards where it is decided to publish: those that are broken in full, the others counted. */
export function GuardsHere() {
  const site = useSite();
  const linkTo = useLinkTo();
  const guards = useQuery(guardsQuery(site.slug)).data?.items;
  if (!guards) return <section aria-label="Guards" aria-busy="true" />;
  const asked = guards.filter((one) => one.guard.on ?? true);
  const broken = asked.filter((one) => one.broken > 0);
  return (
    <section className="guards-here" aria-label="Guards">
      <h2>Guards</h2>
      <p className="mute">
        {guards.length ? standingWords(guards) : "None yet: nothing is asked before it is published."}{" "}
        <Link to={linkTo("checks/guards")}>{guards.length ? "All guards" : "Make one"}</Link>
      </p>
      <ul className="list standing-list">
        {broken.map((one) => (
          <li key={one.guard.name}>
            <GuardMark state="broken" />
            <div>
              <Link to={linkTo(`checks/guards/${encodeURIComponent(one.guard.name)}`)}>
                <b>{one.guard.name}</b>
              </Link>
              <Standing info={one} />
            </div>
          </li>
        ))}
        {asked
          .filter((one) => one.broken === 0)
          .slice(0, 8)
          .map((one) => (
            <li key={one.guard.name}>
              <GuardMark state={one.reached ? "holds" : "idle"} />
              <Link to={linkTo(`checks/guards/${encodeURIComponent(one.guard.name)}`)}>{one.guard.name}</Link>
            </li>
          ))}
      </ul>
    </section>
  );
}
