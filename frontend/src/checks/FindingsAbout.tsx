import type { Shapes } from "../api/client";
import "./checks.css";

/** What the checks say of the thing at hand, where it is edited. */
export function FindingsAbout({ findings }: { findings: Shapes["FindingInfo"][] }) {
  if (findings.length === 0) return null;
  return (
    <ul className="findings" aria-label="What the checks find about it">
      {findings.map((one) => (
        <li key={`${one.check} ${one.what}`} className={`finding ${one.severity}`}>
          <b>{one.what}</b>
          <p className="mute">
            {one.why}. To mend it: {one.mend}.
          </p>
        </li>
      ))}
    </ul>
  );
}
