import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import { askAnew } from "../api/anew";
import { answer, api, type Shapes } from "../api/client";
import { webhooksKey, webhooksQuery } from "../api/peopleQueries";
import { AddressField } from "../parts/AddressField";
import { Chooser } from "../parts/controls";
import { useTellError } from "../parts/messages";
import { useLacking } from "../parts/rights";
import { useLinkTo, useSite } from "../parts/site";
import { useAct } from "../parts/useAct";
import { Sendings } from "./Sendings";
import "./told.css";

const KIND_WORDS: Record<Shapes["WebhookKind"], string> = {
  message: "a signed message",
  purge: "an order to drop the site",
};

/** The servers that are told when the site is published, and what came of it. */
export function ToldView() {
  const linkTo = useLinkTo();
  const lacking = useLacking("owner");
  return (
    <>
      <div className="column">
        <section aria-label="Servers that are told" className="receivers">
          <h2>Servers that are told of publications</h2>
          {lacking ? <p className="mute">{lacking}.</p> : <Webhooks />}
        </section>
      </div>
      <aside className="side" aria-label="How servers are told">
        <h2>How they are told</h2>
        <p>
          As soon as every process of the published site serves the new revision, each server here is sent one
          request. What is not taken is sent again after 5 seconds, and later and later, for some 15 hours.
        </p>
        <h3>A signed message</h3>
        <p>
          A POST of JSON for a program: the site, the revision, and what a cache may drop. Its signature
          (Standard Webhooks: HMAC with SHA-256) shows that it comes from here.
        </p>
        <h3>An order to drop the site</h3>
        <p>
          A request PURGE for a cache, with <span className="mono">Surrogate-Key: site:…</span>, as the
          configuration of Varnish under <span className="mono">deploy/</span> takes it.
        </p>
        <p style={{ margin: "12px 0" }}>
          <Link to={linkTo("site")}>The site</Link>
        </p>
      </aside>
    </>
  );
}

function Webhooks() {
  const site = useSite();
  const found = useQuery(webhooksQuery(site.slug)).data;
  const [fresh, setFresh] = useState<Shapes["NewWebhook"] | null>(null);
  if (!found) return null;
  return (
    <>
      {found.length === 0 && <p className="mute">Nobody is told yet.</p>}
      <ul className="list">
        {found.map((one) => (
          <OneWebhook key={one.id} webhook={one} onRemoved={() => setFresh(null)} />
        ))}
      </ul>
      {fresh && fresh.kind === "message" && (
        <AddressField
          label="Secret"
          address={fresh.secret}
          help={`The secret by which ${hostOf(fresh.address)} knows that a message comes from here. It is told only now.`}
        />
      )}
      <NewWebhook onMade={setFresh} />
    </>
  );
}

const hostOf = (address: string) => new URL(address).host;

const STANDS: Record<Shapes["SendingState"], string> = {
  waiting: "the last one waits",
  taken: "the last one was taken",
  "given-up": "the last one was given up",
};

interface OneProps {
  webhook: Shapes["WebhookRow"];
  onRemoved: () => void;
}

function OneWebhook({ webhook, onRemoved }: OneProps) {
  const site = useSite();
  const act = useAct();
  const [open, setOpen] = useState(false);
  const params = { path: { site: site.slug, number: webhook.id } };
  const attempt = () =>
    act(async () => {
      await api.POST("/api/sites/{site}/webhooks/{number}/sendings", { params });
      setOpen(true);
      return `A message is sent to ${hostOf(webhook.address)}`;
    });
  const remove = () =>
    act(async () => {
      await api.DELETE("/api/sites/{site}/webhooks/{number}", { params });
      onRemoved();
      return `${hostOf(webhook.address)} is told no more`;
    });
  return (
    <li>
      <div className="row">
        <span className="grow clip">
          <b className="mono">{webhook.address}</b>
          <br />
          <span className="mute">{KIND_WORDS[webhook.kind]}</span>
          {webhook.last && (
            <span className={webhook.last === "given-up" ? "bad-words" : "mute"}>
              {" · "}
              {STANDS[webhook.last]}
            </span>
          )}
        </span>
        <Button variant="text" aria-expanded={open} onClick={() => setOpen(!open)}>
          What was sent
        </Button>
        {webhook.kind === "message" && (
          <Button variant="text" onClick={attempt}>
            Try it
          </Button>
        )}
        <Button variant="text" aria-label={`Remove ${webhook.address}`} onClick={remove}>
          Remove
        </Button>
      </div>
      {open && <Sendings webhook={webhook} />}
    </li>
  );
}

function NewWebhook({ onMade }: { onMade: (made: Shapes["NewWebhook"]) => void }) {
  const site = useSite();
  const client = useQueryClient();
  const tellError = useTellError();
  const [kind, setKind] = useState<Shapes["WebhookKind"]>("message");
  const [address, setAddress] = useState("");
  const make = async (event: FormEvent) => {
    event.preventDefault();
    try {
      const params = { path: { site: site.slug } };
      onMade(await answer(api.POST("/api/sites/{site}/webhooks", { params, body: { kind, address } })));
      setAddress("");
      await askAnew(client, { queryKey: webhooksKey(site.slug) });
    } catch (error) {
      tellError(error);
    }
  };
  return (
    <form onSubmit={make} className="new-told">
      <h3>Tell another server</h3>
      <div className="row">
        <Chooser
          label="What it is sent"
          value={kind}
          options={[
            ["message", KIND_WORDS.message],
            ["purge", KIND_WORDS.purge],
          ]}
          onChange={setKind}
        />
        <TextField
          required
          className="grow"
          label="Address"
          placeholder="https://ferries.example/told"
          value={address}
          slotProps={{ htmlInput: { maxLength: 2000 } }}
          onChange={(event) => setAddress(event.target.value)}
        />
        <Button type="submit" variant="outlined">
          Tell it
        </Button>
      </div>
    </form>
  );
}
