import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import { answer, api } from "../api/client";
import { invitedQuery } from "../api/peopleQueries";
import { sessionQuery } from "../api/queries";
import { useTellError } from "../parts/messages";
import { ROLE_WORDS } from "../parts/rights";
import { useTitle } from "../parts/useTitle";
import { Art } from "./Art";
import { NewAccount } from "./NewAccount";
import "./signin.css";

/** Taking an invitation: as whoever is signed in, or with a new account. */
export default function Join() {
  const token = useParams().token ?? "";
  const invited = useQuery(invitedQuery(token));
  const session = useQuery(sessionQuery);
  const tellError = useTellError();
  useTitle("Invitation");
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
    const body = { username, password };
    await answer(api.POST("/api/invited/{token}", { params: { path: { token } }, body }));
    window.location.assign(`/${slug}/pages`);
  };
  const name = session.data.username;
  return (
    <main className="sign-in">
      <div>
        <h1>{site}</h1>
        <p>
          {by ?? "Somebody"} invites you as <b>{role}</b>: {ROLE_WORDS[role]}.
        </p>
        {name ? (
          <Button variant="contained" onClick={() => take("", "").catch(tellError)}>
            Join as {name}
          </Button>
        ) : (
          <>
            <p className="mute">
              Make an account. If you have one, sign in first and open this address again.
            </p>
            <NewAccount does="Make the account and join" onMake={take} />
          </>
        )}
      </div>
      <Art />
    </main>
  );
}
