import Button from "@mui/material/Button";
import type { Shapes } from "../api/client";
import { useSite } from "../parts/site";
import { useBack } from "./useBack";

/** The parts in which the draft differs from what is live, each of which can be taken back by itself. */
export function Differences({ changes }: { changes: Shapes["ChangeInfo"][] }) {
  const site = useSite();
  const back = useBack();
  if (changes.length === 0) {
    return <p className="mute">Nothing to publish: the live site is the same as the draft.</p>;
  }
  const parts = changes.filter((change) => change.part);
  return (
    <>
      <ul className="list" aria-label="What changed">
        {changes.map((change) => (
          <li key={`${change.what} ${change.part} ${change.words}`} className="row">
            <span className="grow">{change.words}</span>
            {site.live && change.part && (
              <Button
                variant="text"
                aria-label={`Back to live: ${change.words}`}
                onClick={() => back.toLive(change.part, `Back as it is live: ${change.words}`)}
              >
                Back to live
              </Button>
            )}
          </li>
        ))}
      </ul>
      {site.live && parts.length > 1 && (
        <Button variant="text" color="inherit" onClick={() => back.toLive("", "The draft is as it is live")}>
          Take all {parts.length} back to live
        </Button>
      )}
    </>
  );
}
