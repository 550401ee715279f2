import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { Shapes } from "../api/client";
import { logQuery } from "../api/peopleQueries";
import { Chooser } from "../parts/controls";
import { useLacking } from "../parts/rights";
import { useAddress, useLinkTo, useSite } from "../parts/site";
import { useDebounced } from "../parts/useDebounced";
import { count, when } from "../parts/words";

type Kind = Shapes["EventKind"] | "";
const KINDS: [Kind, string][] = [
  ["", "everything"],
  ["edit", "edits"],
  ["publication", "publications"],
  ["rights", "rights"],
  ["sign-in", "sign-ins"],
];

/** Everything that was done at the site, newest first; looked up by words, by who, and by kind. */
export function LogView() {
  const site = useSite();
  const { get, set } = useAddress();
  const linkTo = useLinkTo();
  const lacking = useLacking("owner");
  const text = get("text");
  const kind = KINDS.find(([known]) => known === get("kind"))?.[0] ?? "";
  const asked = useDebounced(text, 200);
  const log = useQuery(logQuery(site.slug, asked, kind));
  const file = `/api/sites/${site.slug}/log.jsonl?${new URLSearchParams({ text, kind })}`;
  return (
    <div className="column">
      <h2>Log</h2>
      <div className="row" style={{ marginBottom: 12 }}>
        <TextField
          placeholder="A part of what was done, or of who did it"
          value={text}
          sx={{ flex: "0 1 380px" }}
          slotProps={{ htmlInput: { "aria-label": "Look for", maxLength: 200 } }}
          onChange={(event) => set({ text: event.target.value })}
        />
        <Chooser label="Kind" value={kind} options={KINDS} onChange={(one) => set({ kind: one || null })} />
        <span className="grow mute" role="status">
          {log.data && count(log.data.total, "entry", "entries")}
        </span>
        <Button
          variant="outlined"
          component="a"
          href={file}
          download
          disabled={lacking !== ""}
          title={lacking || "JSON Lines"}
        >
          Export
        </Button>
        <Link to={linkTo("site")}>The site</Link>
      </div>
      {log.isError && <p className="note-box bad">{log.error.message}</p>}
      {log.data?.items.length === 0 && <p className="mute">Nothing of that kind was done.</p>}
      <table className="log">
        <thead className="visually-hidden">
          <tr>
            <th scope="col">When</th>
            <th scope="col">Who</th>
            <th scope="col">What</th>
          </tr>
        </thead>
        <tbody>
          {log.data?.items.map((one) => (
            <tr key={one.id}>
              <td className="mute">{when(one.made)}</td>
              <td>{one.by || <span className="mute">Navrel</span>}</td>
              <td>{one.words}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {log.data && log.data.total > log.data.items.length && (
        <p className="mute">
          and {count(log.data.total - log.data.items.length, "earlier entry", "earlier entries")}
        </p>
      )}
    </div>
  );
}
