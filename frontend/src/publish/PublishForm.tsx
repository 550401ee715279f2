import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api, type Shapes } from "../api/client";
import { guardsQuery } from "../api/queries";
import { MomentField } from "../parts/MomentField";
import { useMessage, useTellError } from "../parts/messages";
import { useLacking } from "../parts/rights";
import { useRefresh, useSite } from "../parts/site";
import { count, when } from "../parts/words";

interface Props {
  impact: Shapes["ImpactInfo"];
  /** Whether that is of the draft as it stands, not of how it stood before the newest edit. */
  current: boolean;
  /** The keys of the changes that go along; null for all there are. */
  parts: string[] | null;
  /** How many changes there are. */
  of: number;
}

/** A note, and publishing what stands above it. */
export function PublishForm({ impact, current, parts, of }: Props) {
  const site = useSite();
  const refresh = useRefresh();
  const tell = useMessage();
  const tellError = useTellError();
  const [note, setNote] = useState("");
  const [reason, setReason] = useState("");
  const guards = useQuery({ ...guardsQuery(site.slug), enabled: impact.broken === null }).data?.items;
  const ofAll = guards?.filter((one) => one.broken > 0).map((one) => one.guard.name);
  const broken = impact.broken ?? ofAll ?? [];
  const [at, setAt] = useState("");
  const [busy, setBusy] = useState(false);
  const lacking = useLacking("publisher");
  if (impact.changes.length === 0) return null;
  const why = () => {
    if (lacking) return lacking;
    if (!current) return "Waits until it is worked out what that would change now";
    if (impact.broken === null && !guards) return "Waits until the guards are asked";
    if (!broken.length || reason.trim()) return "";
    return `Waits for ${count(broken.length, "broken guard")} to be mended, or for a reason to overrule: ${broken.join(", ")}`;
  };
  const waits = why();
  const publish = async () => {
    setBusy(true);
    try {
      const body = { note, version: impact.version, overrule: reason, parts };
      const params = { path: { site: site.slug } };
      if (at) {
        const planned = await answer(api.POST("/api/sites/{site}/plans", { params, body: { ...body, at } }));
        tell(`Goes live on ${when(planned.at)}, as it is now`);
      } else {
        const made = await answer(api.POST("/api/sites/{site}/revisions", { params, body }));
        tell(`Revision ${made.number} is live`);
      }
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
      {broken.length > 0 && (
        <TextField
          fullWidth
          label={`Why ${broken.length === 1 ? "the broken guard is" : "the broken guards are"} overruled`}
          value={reason}
          slotProps={{ htmlInput: { maxLength: 500 } }}
          onChange={(event) => setReason(event.target.value)}
        />
      )}
      <div className="publish-when">
        <MomentField label="At a moment, not at once" value={at} onChange={setAt} />
      </div>
      <div className="row">
        <Button
          variant="contained"
          sx={{ flex: "none" }}
          disabled={busy || waits !== ""}
          title={waits || undefined}
          onClick={publish}
        >
          {at ? "Plan" : "Publish"}{" "}
          {parts ? `${impact.changes.length} of ${of} changes` : count(site.edits, "edit")},{" "}
          {count(impact.pages, "page")}
        </Button>
        <span className={broken.length && !lacking ? "bad" : "mute"} role="status">
          {waits ||
            (at
              ? `Goes live on ${when(at)} on the site's clock, as it is now; what is edited until then waits.`
              : parts
                ? "The others wait in the draft."
                : "Readers get it within seconds, and until then what is live now.")}
        </span>
      </div>
    </div>
  );
}
