import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api } from "../api/client";
import { comparisonQuery, guardsQuery, revisionsQuery } from "../api/queries";
import { Chooser } from "../parts/controls";
import { useLacking } from "../parts/rights";
import { useAddress, useSite } from "../parts/site";
import { useAct } from "../parts/useAct";
import { count, when } from "../parts/words";
import { Impact } from "./Impact";
import { useBack } from "./useBack";

/** Two revisions: what differs in words and on pages, from the one to the other; and going back to one. */
export function Compared({ told }: { told: string }) {
  const site = useSite();
  const { set } = useAddress();
  const back = useBack();
  const revisions = useQuery(revisionsQuery(site.slug)).data ?? [];
  const [from = 0, to = 0] = told.split("-").map(Number);
  const found = useQuery({ ...comparisonQuery(site.slug, from, to), enabled: from > 0 && to > 0 });
  const options = revisions.map(
    (one) =>
      [
        String(one.number),
        `Revision ${one.number}${one.live ? ", live" : ""}, ${when(one.published)}`,
      ] as const,
  );
  const put = (one: number, other: number) => set({ compare: `${one}-${other}` });
  return (
    <>
      <h2>
        Revision {from} against revision {to}
      </h2>
      <div className="row" style={{ flexWrap: "wrap", marginBottom: 12 }}>
        <Chooser
          label="From"
          value={String(from)}
          options={options}
          onChange={(one) => put(Number(one), to)}
        />
        <span>to</span>
        <Chooser label="To" value={String(to)} options={options} onChange={(one) => put(from, Number(one))} />
        <Button variant="text" onClick={() => put(to, from)}>
          Turn round
        </Button>
        <span className="grow" />
        <Button variant="text" onClick={() => set({ compare: null })}>
          Back to the draft
        </Button>
      </div>
      {found.isPending && <p className="mute">Working out what differs, for everyone …</p>}
      {found.isError && <p className="note-box bad">{found.error.message}</p>}
      {found.data && found.data.changes.length === 0 && <p className="mute">They are the same.</p>}
      {found.data && found.data.changes.length > 0 && (
        <>
          <ul className="list" aria-label="What differs">
            {found.data.changes.map((change) => (
              <li key={`${change.part} ${change.words}`}>{change.words}</li>
            ))}
          </ul>
          <Impact impact={found.data} published />
        </>
      )}
      {found.data && to !== site.live?.number && (
        <div className="publish-form">
          {from === site.live?.number ? (
            <LiveAgain key={to} number={to} pages={found.data.pages} />
          ) : (
            <p className="mute">
              Compare it from revision {site.live?.number}, which is live, to see what making it live again
              would change.
            </p>
          )}
          <Button variant="outlined" onClick={() => back.toRevision(to)}>
            Bring revision {to} back as the draft
          </Button>
        </div>
      )}
    </>
  );
}

/** Making a revision live again at once, with what that changes in sight. */
function LiveAgain({ number, pages }: { number: number; pages: number }) {
  const site = useSite();
  const act = useAct();
  const { set } = useAddress();
  const [note, setNote] = useState("");
  const [reason, setReason] = useState("");
  const [refused, setRefused] = useState("");
  const lacking = useLacking("publisher");
  const hasGuards = (useQuery(guardsQuery(site.slug)).data?.items.length ?? 0) > 0;
  const publish = () =>
    act(async () => {
      try {
        const made = await answer(
          api.POST("/api/sites/{site}/revisions/{number}/publish", {
            params: { path: { site: site.slug, number } },
            body: { note, overrule: reason },
          }),
        );
        set({ compare: null });
        return `Revision ${made.number} is live: revision ${number} again. The draft stays as it is.`;
      } catch (error) {
        setRefused((error as Error).message);
        throw error;
      }
    });
  return (
    <>
      <TextField
        fullWidth
        label="Note for whoever looks back"
        value={note}
        slotProps={{ htmlInput: { maxLength: 500 } }}
        onChange={(event) => setNote(event.target.value)}
      />
      {hasGuards && refused && (
        <TextField
          fullWidth
          label="Why the guards are overruled"
          helperText={refused}
          value={reason}
          slotProps={{ htmlInput: { maxLength: 500 } }}
          onChange={(event) => setReason(event.target.value)}
        />
      )}
      <Button variant="contained" disabled={lacking !== ""} title={lacking || undefined} onClick={publish}>
        Make revision {number} live again, {count(pages, "page")}
      </Button>
    </>
  );
}
