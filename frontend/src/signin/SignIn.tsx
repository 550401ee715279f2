import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, type Shapes } from "../api/client";
import "./signin.css";

/** The sign-in page. In demo mode it offers the demo account. */
export default function SignIn({ demo }: { demo: Shapes["DemoAccount"] | null }) {
  const client = useQueryClient();
  const [error, setError] = useState("");
  const [busy, setBusy] = useState(false);
  const signIn = async (username: string, password: string) => {
    setBusy(true);
    try {
      await api.POST("/api/session", { body: { username, password } });
      await client.invalidateQueries();
    } catch (problem) {
      setError((problem as Error).message);
      setBusy(false);
    }
  };
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    signIn(String(form.get("username")), String(form.get("password")));
  };
  return (
    <main className="sign-in">
      <form onSubmit={submit}>
        <h1>navrel</h1>
        <p className="mute">Which layout every page gets, and why.</p>
        <TextField fullWidth required label="Name" name="username" autoComplete="username" />
        <TextField
          fullWidth
          required
          label="Password"
          name="password"
          type="password"
          autoComplete="current-password"
        />
        {error && (
          <p className="field-error" role="alert">
            {error}
          </p>
        )}
        <Button type="submit" variant="contained" disabled={busy}>
          Sign in
        </Button>
        {demo && (
          <Button variant="outlined" disabled={busy} onClick={() => signIn(demo.username, demo.password)}>
            Look around the demo as {demo.username}
          </Button>
        )}
      </form>
      <div className="art" aria-hidden="true">
        <svg viewBox="0 0 360 420" width="360" style={{ maxWidth: "100%" }}>
          {[
            ["#E7B75B", 20, 0, 400],
            ["#7FB5AC", 90, 0, 130],
            ["#D07F5A", 90, 142, 258],
            ["#5D9CC4", 160, 0, 260],
            ["#93A86A", 160, 272, 128],
            ["#D39AA7", 230, 0, 60],
            ["#8C6BA8", 230, 72, 200],
            ["#F7F5F0", 230, 284, 116],
            ["#4C8C8A", 300, 0, 330],
            ["#B65C72", 300, 342, 58],
          ].map(([colour, x, y, height]) => (
            <rect key={`${x} ${y}`} x={x} y={y} width="10" height={height} rx="4" fill={String(colour)} />
          ))}
        </svg>
      </div>
    </main>
  );
}
