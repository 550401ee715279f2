import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { Shapes } from "../api/client";
import { findingsQuery } from "../api/queries";
import { LabelledField, Segments } from "../parts/controls";
import { useKept } from "../parts/memory";
import { useLinkTo, useSite } from "../parts/site";
import { capital, count } from "../parts/words";
import { bySeverity, SEVERITY_NAMES, type Severity } from "./severity";
import "./checks.css";

type Finding = Shapes["FindingInfo"];

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
  const all = findings.data ?? [];
  const fitting = all.filter(
    (one) =>
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
      </div>
      {findings.isError && <p className="note-box bad">{findings.error.message}</p>}
      <div className="findings-frame">
        <p className="mute">
          Whether rules can win holds for every visitor and time; what pages lack or say twice, for the usual
          visitor now.
        </p>
        {findings.data && all.length === 0 && (
          <div className="column">
            <h2>Nothing is amiss</h2>
            <p>Every rule can win somewhere, every piece has a place, every link leads to a page.</p>
          </div>
        )}
        {all.length > 0 && fitting.length === 0 && (
          <p className="column mute">No finding fits what is asked for.</p>
        )}
        {bySeverity(fitting).map(([grade, found]) => (
          <section key={grade} aria-label={SEVERITY_NAMES[grade]}>
            <h2 className={`severity ${grade}`}>
              {SEVERITY_NAMES[grade]} <span className="mute">{found.length}</span>
            </h2>
            <ul className="findings">
              {found.map((one) => (
                <FindingRow key={`${one.check} ${one.what}`} finding={one} />
              ))}
            </ul>
          </section>
        ))}
      </div>
    </div>
  );
}

function FindingRow({ finding }: { finding: Finding }) {
  const linkTo = useLinkTo();
  const more = finding.page_count - finding.pages.length;
  return (
    <li className={`finding ${finding.severity}`}>
      <div className="row">
        <b className="grow">{finding.what}</b>
        {finding.rule !== null && <Link to={linkTo(`rules/${finding.rule}`)}>Open the rule</Link>}
        {finding.check.startsWith("guard-") && <Link to={linkTo("checks/guards")}>Open the guards</Link>}
        {finding.piece !== null && <Link to={linkTo(`pieces/${finding.piece}`)}>Open the piece</Link>}
        {finding.pages.length > 0 && more === 0 && (
          <Link to={linkTo("pages", { q: `page:${finding.pages.map((page) => page.path).join(",")}` })}>
            Show {count(finding.page_count, "page")}
          </Link>
        )}
      </div>
      <p className="mute">{capital(finding.why)}.</p>
      <p>To mend it: {finding.mend}.</p>
      {finding.pages.length > 0 && (
        <details>
          <summary>{count(finding.page_count, "page")}</summary>
          <p className="finding-pages">
            {finding.pages.map((page) => (
              <Link key={page.path} to={linkTo("preview", { path: page.path })} title={page.path}>
                {page.title || page.path}
              </Link>
            ))}
            {more > 0 && <span className="mute">and {count(more, "more page")}</span>}
          </p>
        </details>
      )}
    </li>
  );
}
