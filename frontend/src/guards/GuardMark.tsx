export type GuardStateName = "holds" | "broken" | "off" | "idle";
const MARKS: Record<GuardStateName, [string, string]> = {
  holds: ["●", "Holds"],
  broken: ["✕", "Broken"],
  off: ["○", "Off"],
  idle: ["–", "Guards nothing"],
};

/** How a guard stands, as a sign with its word. */
export function GuardMark({ state }: { state: GuardStateName }) {
  const [sign, word] = MARKS[state];
  return (
    <span className={`guard-mark ${state}`} role="img" aria-label={word} title={word}>
      {sign}
    </span>
  );
}
