import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { answer, api, type Shapes } from "../api/client";
import { useMessage, useTellError } from "../parts/messages";
import { useRefresh, useSite } from "../parts/site";
import { count } from "../parts/words";

/** A note, and publishing what stands above it. */
export function PublishForm({ impact }: { impact: Shapes["ImpactInfo"] }) {
  const site = useSite();
  const refresh = useRefresh();
  const tell = useMessage();
  const tellError = useTellError();
  const [note, setNote] = useState("");
  const [busy, setBusy] = useState(false);
  if (impact.changes.length === 0) return null;
  const publish = async () => {
    setBusy(true);
    try {
      const body = { note, version: impact.version };
      const made = await answer(
        api.POST("/api/sites/{site}/revisions", { params: { path: { site: site.slug } }, body }),
      );
      tell(`Revision ${made.number} is live`);
    } catch (error) {
      tellError(error);
    }
    await refresh();
    setBusy(false);
  };
  return (
    <div className="publish-form">
      <TextField
        fullWidth
        label="Note for whoever looks back"
        value={note}
        slotProps={{ htmlInput: { maxLength: 500 } }}
        onChange={(event) => setNote(event.target.value)}
      />
      <div className="row">
        <Button variant="contained" disabled={busy} onClick={publish}>
          Publish {count(site.edits, "edit")}, {count(impact.pages, "page")}
        </Button>
        <span className="mute">The published site serves it at once.</span>
      </div>
    </div>
  );
}
