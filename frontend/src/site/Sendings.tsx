import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { api, type Shapes } from "../api/client";
import { sendingsQuery } from "../api/peopleQueries";
import { useSite } from "../parts/site";
import { useAct } from "../parts/useAct";
import { count, when } from "../parts/words";

/** What was sent to a server, or is to be, newest first: each with its attempts. */
export function Sendings({ webhook }: { webhook: Shapes["WebhookRow"] }) {
  const site = useSite();
  const found = useQuery(sendingsQuery(site.slug, webhook.id)).data;
  if (!found) return null;
  if (found.length === 0) return <p className="mute">Nothing was sent to it yet.</p>;
  return (
    <ul className="plain-list sendings" aria-label={`What was sent to ${webhook.address}`}>
      {found.map((one) => (
        <OneSending key={one.id} webhook={webhook} sending={one} />
      ))}
    </ul>
  );
}

interface OneProps {
  webhook: Shapes["WebhookRow"];
  sending: Shapes["SendingRow"];
}

function OneSending({ webhook, sending }: OneProps) {
  const site = useSite();
  const act = useAct();
  const about = sending.revision === null ? "A try" : `Revision ${sending.revision}`;
  const again = () =>
    act(async () => {
      const path = { site: site.slug, number: webhook.id, other: sending.id };
      await api.POST("/api/sites/{site}/webhooks/{number}/sendings/{other}/again", { params: { path } });
      return `${about} is sent again`;
    });
  return (
    <li>
      <div className="row">
        <details className="grow">
          <summary>
            <b>{about}</b> {standing(sending)} <span className="mute">{when(sending.made)}</span>
          </summary>
          <p className="mono clip-lines">{sending.body}</p>
          <p className="mute mono">{sending.message}</p>
          <ul className="plain-list">
            {sending.attempts.map((attempt) => (
              <li key={attempt.at}>
                {when(attempt.at)}: {attempt.status || attempt.told}{" "}
                <span className="mute">after {attempt.milliseconds} ms</span>
              </li>
            ))}
          </ul>
        </details>
        {(sending.state !== "waiting" || sending.attempts.length > 0) && (
          <Button variant="text" aria-label={`Send again: ${about}`} onClick={again}>
            Send again
          </Button>
        )}
      </div>
    </li>
  );
}

/** How a message stands, and what was answered last. */
function standing(sending: Shapes["SendingRow"]): string {
  const last = sending.attempts.at(-1);
  const answered = last && (last.status ? `answered ${last.status}` : last.told);
  const tries = count(sending.attempts.length, "attempt");
  if (sending.state === "taken") return `was taken, ${answered}`;
  if (sending.state === "given-up") return `was given up after ${tries}: ${answered}`;
  if (!last) return "is about to be sent";
  return `waits until ${sending.due ? when(sending.due) : "now"}, ${tries}: ${answered}`;
}
