import Button from "@mui/material/Button";
import { useEffect } from "react";
import { Link } from "react-router";
import { useKept } from "../parts/memory";
import { useLinkTo } from "../parts/site";
import { count } from "../parts/words";
import { useGuardStates } from "./useGuards";
import "./guards.css";

/** Tells of broken guards in every view, whoever's edit broke them, until it is closed; again where more pages break. */
export function BrokenGuards() {
  const linkTo = useLinkTo();
  const { guards, current } = useGuardStates();
  /** On how many pages each was broken when it was closed. */
  const [closed, setClosed] = useKept<Record<string, number>>("guards-closed", {});
  useEffect(() => {
    const mended = guards?.filter((one) => one.broken === 0 && closed[one.guard.name] !== undefined) ?? [];
    if (mended.length === 0) return;
    const names = new Set(mended.map((one) => one.guard.name));
    setClosed(Object.fromEntries(Object.entries(closed).filter(([name]) => !names.has(name))));
  }, [guards, closed, setClosed]);
  const told = guards?.filter((one) => one.broken > (closed[one.guard.name] ?? 0)) ?? [];
  if (!current || told.length === 0) return null;
  return (
    <div className="broke row" role="alert">
      <ul className="plain-list grow">
        {told.map((one) => (
          <li key={one.guard.name}>
            The guard{" "}
            <Link to={linkTo(`checks/guards/${encodeURIComponent(one.guard.name)}`)}>
              <b>{one.guard.name}</b>
            </Link>{" "}
            is broken on {count(one.broken, "page")}: {one.breaches[0]?.words}.
          </li>
        ))}
      </ul>
      <Button
        variant="text"
        aria-label="Close: broken guards"
        onClick={() =>
          setClosed({ ...closed, ...Object.fromEntries(told.map((one) => [one.guard.name, one.broken])) })
        }
      >
        Close
      </Button>
    </div>
  );
}
