import Button from "@mui/material/Button";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { askAnew } from "../api/anew";
import { answer, api, type Shapes } from "../api/client";
import { LabelledField } from "../parts/controls";
import { useTellError } from "../parts/messages";
import { count, when } from "../parts/words";

interface Props {
  value: string;
  label: string;
  onChange: (url: string) => void;
}

/** The address of a feed; fetched at once where somebody wants to see it, and later by the server. */
export function FeedField({ value, label, onChange }: Props) {
  const client = useQueryClient();
  const tellError = useTellError();
  const [found, setFound] = useState<Shapes["FeedInfo"] | null>(null);
  const [busy, setBusy] = useState(false);
  const fetchNow = async () => {
    setBusy(true);
    try {
      setFound(await answer(api.POST("/api/feeds", { body: { url: value } })));
      await askAnew(client, { predicate: ({ queryKey }) => queryKey.includes("picture") });
    } catch (error) {
      tellError(error);
    } finally {
      setBusy(false);
    }
  };
  const told = found?.url === value ? found : null;
  return (
    <span className="grow">
      <LabelledField mono label={label} placeholder="https://" value={value} onChange={onChange} />
      <span className="row">
        <Button variant="text" disabled={busy || value === ""} onClick={fetchNow}>
          {busy ? "Fetching …" : "Fetch now"}
        </Button>
        {told && (
          <span role="status" className={told.problem ? "field-error" : "mute"}>
            {told.problem ? `${told.problem}. ` : ""}
            {told.fetched && `${count(told.entries, "entry", "entries")} kept, of ${when(told.fetched)}`}
          </span>
        )}
      </span>
    </span>
  );
}
