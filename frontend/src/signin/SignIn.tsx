import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { askAnew } from "../api/anew";
import { ApiError, api, type Shapes } from "../api/client";
import { useTitle } from "../parts/useTitle";
import { Art } from "./Art";
import "./signin.css";

/** The sign-in page. In demo mode it offers the demo account. */
export default function SignIn({ demo }: { demo: Shapes["DemoAccount"] | null }) {
  const client = useQueryClient();
  const [error, setError] = useState("");
  const [takesCode, setTakesCode] = useState(false);
  const [busy, setBusy] = useState(false);
  useTitle("Sign in");
  const signIn = async (username: string, password: string, code = "") => {
    setBusy(true);
    try {
      await api.POST("/api/session", { body: { username, password, code } });
      await askAnew(client, {});
    } catch (problem) {
      const wantsCode = problem instanceof ApiError && problem.code === "code-wanted";
      if (wantsCode) setTakesCode(true);
      setError(wantsCode ? "" : (problem as Error).message);
      setBusy(false);
    }
  };
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    signIn(String(form.get("username")), String(form.get("password")), String(form.get("code") ?? ""));
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
        {takesCode && (
          <TextField
            fullWidth
            required
            autoFocus
            label="Code"
            name="code"
            autoComplete="one-time-code"
            slotProps={{ htmlInput: { inputMode: "numeric", maxLength: 20 } }}
            helperText="From the application that you set up for this account, or a spare one"
          />
        )}
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
      <Art />
    </main>
  );
}
