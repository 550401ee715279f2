import type { ReactNode } from "react";
import type { Shapes } from "../api/client";
import "./checks.css";

type Said = Pick<Shapes["FindingInfo"], "check" | "severity" | "what" | "why" | "mend">;

interface Props<T extends Said> {
  findings: T[];
  /** What can be done about a finding at once. */
  children?: (finding: T) => ReactNode;
}

/** What the checks say of the thing at hand, where it is edited. */
export function FindingsAbout<T extends Said>({ findings, children }: Props<T>) {
  if (findings.length === 0) return null;
  return (
    <ul className="findings" aria-label="What the checks find about it">
      {findings.map((one) => (
        <li key={`${one.check} ${one.what} ${one.why}`} className={`finding ${one.severity}`}>
          <b>{one.what}</b>
          <p className="mute">
            {one.why}. To mend it: {one.mend}.
          </p>
          {children?.(one)}
        </li>
      ))}
    </ul>
  );
}
