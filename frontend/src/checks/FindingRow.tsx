import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Link } from "react-router";
import { api, type Shapes } from "../api/client";
import { Opening } from "../parts/Opening";
import { PageStrip } from "../parts/PageStrip";
import { useLinkTo, usePieces, useSite } from "../parts/site";
import { useAct } from "../parts/useAct";
import { capital, count } from "../parts/words";
import { MendRule } from "./MendRule";

type Finding = Shapes["FindingInfo"];

/** What stands for a page where a finding is about no piece. */
const GRADES: Record<Finding["severity"], string> = {
  error: "var(--bad)",
  warning: "var(--amber)",
  hint: "var(--dots)",
};

/** One finding: what, why, where, and what can be done about it. */
export function FindingRow({ finding }: { finding: Finding }) {
  const linkTo = useLinkTo();
  const colour = usePieces().bySlug.get(finding.piece ?? "")?.colour;
  const drawn = {
    ...(finding.width ? { width: finding.width } : {}),
    ...(finding.slot ? { target: finding.slot } : {}),
  };
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
      {finding.aside ? (
        <p>
          Let be by {finding.aside.by ?? "the program"}: {finding.aside.reason}
        </p>
      ) : (
        <p>To mend it: {finding.mend}.</p>
      )}
      <div className="row">
        {finding.aside === null && finding.rule !== null && (
          <MendRule rule={finding.rule} check={finding.check} />
        )}
        <LetBe finding={finding} />
      </div>
      {finding.pages.length > 0 && (
        <PageStrip
          paths={finding.pages.map((page) => page.path)}
          total={finding.page_count}
          blocks={[{ colour: colour ?? GRADES[finding.severity], look: "" }]}
          about={finding.what}
          params={drawn}
        />
      )}
      {finding.pages.length > 0 && (
        <details>
          <summary>{count(finding.page_count, "page")}</summary>
          <p className="finding-pages">
            {finding.pages.map((page) => (
              <Link key={page.path} to={linkTo("preview", { ...drawn, path: page.path })} title={page.path}>
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

/** A finding set aside with a reason until anything of it changes; or told again. */
function LetBe({ finding }: { finding: Finding }) {
  const site = useSite();
  const act = useAct();
  const params = { path: { site: site.slug, key: finding.key } };
  const tellAgain = () =>
    act(async () => {
      await api.DELETE("/api/sites/{site}/findings/{key}/aside", { params });
      return `Told again: ${finding.what}`;
    });
  if (finding.aside) {
    return (
      <Button variant="text" size="small" aria-label={`Tell it again: ${finding.what}`} onClick={tellAgain}>
        Tell it again
      </Button>
    );
  }
  return (
    <Opening text="Let it be" size="small" aria-label={`Let it be: ${finding.what}`} about="Let it be">
      {(close) => (
        <Reason
          onGive={(reason) => {
            close();
            act(async () => {
              await api.PUT("/api/sites/{site}/findings/{key}/aside", { params, body: { reason } });
              return `Let be, until anything of it changes: ${finding.what}`;
            });
          }}
        />
      )}
    </Opening>
  );
}

function Reason({ onGive }: { onGive: (reason: string) => void }) {
  const [reason, setReason] = useState("");
  return (
    <form
      className="row"
      onSubmit={(event) => {
        event.preventDefault();
        if (reason.trim()) onGive(reason);
      }}
    >
      <TextField
        autoFocus
        label="Why it is let be"
        value={reason}
        slotProps={{ htmlInput: { maxLength: 500 } }}
        onChange={(event) => setReason(event.target.value)}
      />
      <Button
        type="submit"
        variant="outlined"
        disabled={!reason.trim()}
        title={reason.trim() ? undefined : "Waits for a reason"}
      >
        Let it be
      </Button>
    </form>
  );
}
