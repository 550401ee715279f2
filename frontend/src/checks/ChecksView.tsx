import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { findingsQuery } from "../api/queries";
import { LabelledField, Segments } from "../parts/controls";
import { useKept } from "../parts/memory";
import { useLinkTo, useSite } from "../parts/site";
import { count } from "../parts/words";
import { FindingRow } from "./FindingRow";
import { Measured } from "./Measured";
import { bySeverity, SEVERITY_NAMES, type Severity } from "./severity";
import "./checks.css";

const SHOWN: (readonly [Severity | "", string])[] = [
  ["", "all"],
  ["error", "errors"],
  ["warning", "warnings"],
  ["hint", "hints"],
];

/** Everything that the checks find about the draft, the worst first, each with its pages and a way to what it is about. */
export function ChecksView() {
  const site = useSite();
  const linkTo = useLinkTo();
  const findings = useQuery(findingsQuery(site.slug));
  const [text, setText] = useKept("checks-text", "");
  const [severity, setSeverity] = useKept<Severity | "">("checks-severity", "");
  const [withAside, setWithAside] = useKept("checks-aside", false);
  const all = findings.data ?? [];
  const aside = all.filter((one) => one.aside !== null).length;
  const fitting = all.filter(
    (one) =>
      (withAside || one.aside === null) &&
      (!severity || one.severity === severity) &&
      `${one.what} ${one.why}`.toLowerCase().includes(text.toLowerCase()),
  );
  return (
    <div className="work">
      <div className="bar">
        <div style={{ width: 300 }}>
          <LabelledField label="Find in the findings" placeholder="Find" value={text} onChange={setText} />
        </div>
        <Segments label="How bad" value={severity} options={SHOWN} onChange={setSeverity} />
        <Link to={linkTo("checks/guards")}>Guards</Link>
        <span className="mute" role="status">
          {findings.data && `${count(fitting.length, "finding")} about the draft`}
        </span>
        {aside > 0 && (
          <Button variant="text" aria-pressed={withAside} onClick={() => setWithAside(!withAside)}>
            {count(aside, "finding is", "findings are")} let be: {withAside ? "hide" : "show"}
          </Button>
        )}
      </div>
      {findings.isError && <p className="note-box bad">{findings.error.message}</p>}
      <div className="findings-frame">
        <p className="mute">
          Whether rules can win holds for every visitor and time; what pages lack or say twice, for the usual
          visitor now.
        </p>
        {findings.data && all.length === aside && fitting.length === 0 && (
          <div className="column">
            <h2>Nothing is amiss</h2>
            <p>Every rule can win somewhere, every piece has a place, every link leads to a page.</p>
          </div>
        )}
        {all.length > aside && fitting.length === 0 && (
          <p className="column mute">No finding fits what is asked for.</p>
        )}
        {bySeverity(fitting).map(([grade, found]) => (
          <section key={grade} aria-label={SEVERITY_NAMES[grade]}>
            <h2 className={`severity ${grade}`}>
              {SEVERITY_NAMES[grade]} <span className="mute">{found.length}</span>
            </h2>
            <ul className="findings">
              {found.map((one) => (
                <FindingRow key={one.key} finding={one} />
              ))}
            </ul>
          </section>
        ))}
        <Measured />
      </div>
    </div>
  );
}
