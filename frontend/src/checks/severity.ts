import type { Shapes } from "../api/client";

export type Severity = Shapes["FindingInfo"]["severity"];

/** The severities, the worst first, as they stand above their findings. */
export const SEVERITY_NAMES: Record<Severity, string> = {
  error: "Does not work",
  warning: "Is probably not meant",
  hint: "Could be simpler",
};

/** Findings in groups, the worst first; severities without a finding are left out. */
export function bySeverity<T extends { severity: Severity }>(findings: T[]): [Severity, T[]][] {
  return (Object.keys(SEVERITY_NAMES) as Severity[])
    .map((grade): [Severity, T[]] => [grade, findings.filter((one) => one.severity === grade)])
    .filter(([, found]) => found.length > 0);
}
