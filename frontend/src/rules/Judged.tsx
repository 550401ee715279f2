import Button from "@mui/material/Button";
import type { Shapes } from "../api/client";
import type { RuleTree } from "./ruleTree";
import "../checks/checks.css";

interface Props {
  found: Shapes["JudgementInfo"][];
  /** Put the mended rule in the place of the one being edited. */
  onMend: (tree: RuleTree) => void;
}

/** What is the matter with a rule as it stands in the editor, each with the click that mends it. */
export function Judged({ found, onMend }: Props) {
  if (found.length === 0) return null;
  return (
    <ul className="findings" aria-label="What the checks find about it">
      {found.map(({ check, severity, what, why, mend, mending }) => (
        <li key={`${check} ${what}`} className={`finding ${severity}`}>
          <b>{what}</b>
          <p className="mute">
            {why}. To mend it: {mend}.
          </p>
          {mending && (
            <Button size="small" onClick={() => onMend(mending.tree)}>
              {mending.words}
            </Button>
          )}
        </li>
      ))}
    </ul>
  );
}
