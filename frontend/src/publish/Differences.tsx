import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import type { Shapes } from "../api/client";
import { useSite } from "../parts/site";
import { useBack } from "./useBack";

interface Props {
  changes: Shapes["ChangeInfo"][];
  /** The keys of the changes that wait for a later publication. */
  waiting: string[];
  onWaiting: (keys: string[]) => void;
}

/** The parts in which the draft differs from what is live; each can wait for later, or be taken back by itself. */
export function Differences({ changes, waiting, onWaiting }: Props) {
  const site = useSite();
  const back = useBack();
  if (changes.length === 0) {
    return <p className="mute">Nothing to publish: the live site is the same as the draft.</p>;
  }
  const parts = changes.filter((change) => change.part);
  const choosing = site.live !== null && changes.length > 1;
  /** A change by its words; with its kind where a rule and a piece of one name change alike. */
  const named = ({ words, what }: Shapes["ChangeInfo"]) =>
    changes.filter((one) => one.words === words).length > 1 ? `${words} (${what})` : words;
  return (
    <>
      <ul className="list" aria-label="What changed">
        {changes.map((change) => {
          const waits = waiting.includes(change.part);
          return (
            <li key={`${change.what} ${change.part} ${change.words}`} className="row">
              {choosing && (
                <Checkbox
                  checked={!waits}
                  disabled={!change.part}
                  slotProps={{
                    input: {
                      "aria-label": `Publish: ${named(change)}`,
                      title: change.part ? undefined : "What was taken in goes along in any case",
                    },
                  }}
                  onChange={() =>
                    onWaiting(
                      waits ? waiting.filter((one) => one !== change.part) : [...waiting, change.part],
                    )
                  }
                />
              )}
              <span className="mute change-kind">{change.what === "order" ? "rules" : change.what}</span>
              <span className={waits ? "grow mute" : "grow"}>
                {change.words}
                {waits && " · waits"}
              </span>
              {site.live && change.part && (
                <Button
                  variant="text"
                  aria-label={`Back to live: ${named(change)}`}
                  onClick={() => back.toLive(change.part, `Back as it is live: ${change.words}`)}
                >
                  Back to live
                </Button>
              )}
            </li>
          );
        })}
      </ul>
      {site.live && parts.length > 1 && (
        <Button variant="text" color="inherit" onClick={() => back.toLive("", "The draft is as it is live")}>
          Take all {parts.length} back to live
        </Button>
      )}
    </>
  );
}
