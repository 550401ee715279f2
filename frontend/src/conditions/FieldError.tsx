import type { Problem } from "../api/client";

/** What the server says is wrong with a field. */
export function FieldError({ problem }: { problem: Problem | undefined }) {
  if (!problem) return null;
  return (
    <p className="field-error" role="alert">
      {problem.message}
      {problem.hint && <span className="mute"> — {problem.hint}</span>}
    </p>
  );
}
