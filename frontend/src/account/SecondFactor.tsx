import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { askAnew } from "../api/anew";
import { ApiError, answer, api, type Shapes } from "../api/client";
import { factorQuery } from "../api/peopleQueries";
import { count, when } from "../parts/words";

/** A second factor for signing in: setting one up, with spare codes, and ending it. */
export function SecondFactor() {
  const [open, setOpen] = useState(false);
  const found = useQuery({ ...factorQuery, enabled: open }).data;
  const client = useQueryClient();
  const [begun, setBegun] = useState<Shapes["FactorBegun"] | null>(null);
  const [spare, setSpare] = useState<string[]>([]);
  const renew = () => askAnew(client, factorQuery);
  const begin = async (password: string) =>
    setBegun(await answer(api.POST("/api/second-factor", { body: { password } })));
  const confirm = async (code: string) => {
    setSpare((await answer(api.PUT("/api/second-factor", { body: { code } }))).codes);
    setBegun(null);
    await renew();
  };
  const end = async (password: string) => {
    await api.POST("/api/second-factor/end", { body: { password } });
    setSpare([]);
    await renew();
  };
  return (
    <details onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary>Second factor</summary>
      {found && !found.since && !begun && (
        <>
          <p className="mute">
            Signing in then takes a code beside the password, from an application on your phone or computer
            that makes them by time (TOTP).
          </p>
          <OneField label="Your password" secret pointer="/password" does="Set one up" onDone={begin} />
        </>
      )}
      {begun && (
        <>
          <p>
            Let the application read this picture, or type the secret there. Then type the code that it shows.
          </p>
          <img className="qr" src={begun.picture} alt="The secret as a QR code" />
          <p>
            <code className="mono token-text">{begun.secret}</code>
          </p>
          <OneField label="Code" pointer="/code" does="Ask for it from now on" onDone={confirm} />
        </>
      )}
      {spare.length > 0 && (
        <div className="note-box" role="status">
          Spare codes for when the application is lost, each good once and told only now:
          <ul className="plain-list spare-codes" aria-label="Spare codes">
            {spare.map((one) => (
              <li key={one} className="mono">
                {one}
              </li>
            ))}
          </ul>
        </div>
      )}
      {found?.since && (
        <>
          <p>
            Signing in takes a code since {when(found.since)}.{" "}
            <span className="mute">{count(found.spare, "spare code")} left.</span>
          </p>
          <OneField
            label="Your password"
            secret
            pointer="/password"
            does="Ask for none any more"
            onDone={end}
          />
        </>
      )}
    </details>
  );
}

interface FieldProps {
  label: string;
  secret?: boolean;
  /** Where the API says what is wrong with it. */
  pointer: string;
  does: string;
  onDone: (text: string) => Promise<void>;
}

/** One text that something takes, and doing it. */
function OneField({ label, secret = false, pointer, does, onDone }: FieldProps) {
  const [wrong, setWrong] = useState("");
  const submit = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    try {
      await onDone(String(new FormData(event.currentTarget).get("text")));
    } catch (error) {
      setWrong((error instanceof ApiError && error.at(pointer)?.message) || (error as Error).message);
    }
  };
  return (
    <form onSubmit={submit}>
      <TextField
        fullWidth
        required
        label={label}
        name="text"
        type={secret ? "password" : "text"}
        autoComplete={secret ? "current-password" : "one-time-code"}
        error={Boolean(wrong)}
        helperText={wrong}
      />
      <Button type="submit" variant="outlined">
        {does}
      </Button>
    </form>
  );
}
