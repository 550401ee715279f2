import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { useParams } from "react-router";
import { ApiError, answer, api } from "../api/client";
import { invitedQuery } from "../api/peopleQueries";
import { sessionQuery } from "../api/queries";
import { ROLE_WORDS } from "../parts/rights";
import "./signin.css";

/** Taking an invitation: as whoever is signed in, or with a new account. */
export default function Join() {
  const token = useParams().token ?? "";
  const invited = useQuery(invitedQuery(token));
  const session = useQuery(sessionQuery);
  const [wrong, setWrong] = useState<Record<string, string>>({});
  if (invited.isPending || session.isPending) return null;
  if (invited.isError || session.isError)
    return (
      <main className="column">
        <h1>{(invited.error ?? session.error)?.message}</h1>
        <p className="mute">Ask whoever invited you for another.</p>
        <a href="/">Sign in</a>
      </main>
    );
  const { site, slug, role, by } = invited.data;
  const take = async (username: string, password: string) => {
    try {
      await answer(
        api.POST("/api/invited/{token}", { params: { path: { token } }, body: { username, password } }),
      );
      window.location.assign(`/${slug}/pages`);
    } catch (error) {
      const at = (pointer: string) => (error instanceof ApiError && error.at(pointer)?.message) || "";
      const found = { username: at("/username"), password: at("/password") };
      setWrong(found.username || found.password ? found : { all: (error as Error).message });
    }
  };
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    take(String(form.get("username")), String(form.get("password")));
  };
  const name = session.data.username;
  return (
    <main className="sign-in">
      <form onSubmit={submit}>
        <h1>{site}</h1>
        <p>
          {by ?? "Somebody"} invites you as <b>{role}</b>: {ROLE_WORDS[role]}.
        </p>
        {name ? (
          <Button variant="contained" onClick={() => take("", "")}>
            Join as {name}
          </Button>
        ) : (
          <>
            <p className="mute">
              Make an account. If you have one, sign in first and open this address again.
            </p>
            <TextField
              fullWidth
              required
              label="Name"
              name="username"
              autoComplete="username"
              error={Boolean(wrong.username)}
              helperText={wrong.username || "Letters, digits and @ . + - _"}
            />
            <TextField
              fullWidth
              required
              label="Password"
              name="password"
              type="password"
              autoComplete="new-password"
              error={Boolean(wrong.password)}
              helperText={wrong.password || "Ten characters at least"}
            />
            <Button type="submit" variant="contained">
              Make the account and join
            </Button>
          </>
        )}
        {wrong.all && (
          <p className="field-error" role="alert">
            {wrong.all}
          </p>
        )}
      </form>
    </main>
  );
}
