import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { askAnew } from "../api/anew";
import { answer, api, type Shapes } from "../api/client";
import { tokensQuery } from "../api/peopleQueries";
import { Chooser } from "../parts/controls";
import { useTellError } from "../parts/messages";
import { ROLES } from "../parts/rights";
import { useSite } from "../parts/site";
import { useAct } from "../parts/useAct";
import { count, when } from "../parts/words";

const LASTS = [
  ["7", "for a week"],
  ["30", "for 30 days"],
  ["90", "for 90 days"],
  ["365", "for a year"],
] as const;
type Lasts = (typeof LASTS)[number][0];

/** Tokens by which programs act as the account at this site, each made for one purpose and told once. */
export function Tokens() {
  const [open, setOpen] = useState(false);
  const found = useQuery({ ...tokensQuery, enabled: open }).data;
  const client = useQueryClient();
  const act = useAct();
  const [made, setMade] = useState<Shapes["NewToken"] | null>(null);
  const renew = () => askAnew(client, tokensQuery);
  const end = (token: Shapes["TokenRow"]) =>
    act(async () => {
      await api.DELETE("/api/tokens/{number}", { params: { path: { number: token.id } } });
      if (made?.id === token.id) setMade(null);
      await renew();
      return `The token ${token.name} does not hold any more`;
    });
  return (
    <details onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary>Tokens for programs</summary>
      <p className="mute">
        A program that shows one acts as you, as far as the token goes; with one for published layouts it asks
        for those, and nothing else.
      </p>
      {found && found.length > 0 && (
        <ul className="plain-list" aria-label="Tokens">
          {found.map((one) => (
            <li key={one.id} className="row">
              <span className="grow">
                <b>{one.name}</b>: {one.role === "published" ? "published layouts" : one.role} of {one.site}
                <span className="mute">
                  {" "}
                  until {when(one.ends)}, {one.used ? `used ${when(one.used)}` : "not used yet"}
                </span>
              </span>
              <Button variant="text" aria-label={`Take back ${one.name}`} onClick={() => end(one)}>
                Take back
              </Button>
            </li>
          ))}
        </ul>
      )}
      {made && (
        <p className="note-box" role="status">
          {made.name}, told only now: <code className="mono token-text">{made.token}</code>
        </p>
      )}
      <NewToken
        onMade={async (token) => {
          setMade(token);
          await renew();
        }}
      />
      {found && found.length > 0 && <p className="mute">{count(found.length, "token")} of 20</p>}
    </details>
  );
}

function NewToken({ onMade }: { onMade: (token: Shapes["NewToken"]) => void }) {
  const site = useSite();
  const tellError = useTellError();
  const [name, setName] = useState("");
  const [role, setRole] = useState<Shapes["TokenRole"]>("viewer");
  const [lasts, setLasts] = useState<Lasts>("30");
  const mine = ROLES.slice(0, ROLES.indexOf(site.your_role) + 1);
  const make = async (event: FormEvent) => {
    event.preventDefault();
    try {
      const body = { name, site: site.slug, role, days: Number(lasts) };
      onMade(await answer(api.POST("/api/tokens", { body })));
      setName("");
    } catch (error) {
      tellError(error);
    }
  };
  return (
    <form onSubmit={make} className="new-token">
      <TextField
        fullWidth
        required
        label="What the token is for"
        value={name}
        slotProps={{ htmlInput: { maxLength: 80 } }}
        onChange={(event) => setName(event.target.value)}
      />
      <div className="row">
        <Chooser
          label="What it can do"
          value={role}
          options={[["published", "published layouts"], ...mine.map((one) => [one, one] as const)]}
          onChange={setRole}
        />
        <Chooser label="How long it lasts" value={lasts} options={LASTS} onChange={setLasts} />
        <Button type="submit" variant="outlined">
          Make the token
        </Button>
      </div>
    </form>
  );
}
