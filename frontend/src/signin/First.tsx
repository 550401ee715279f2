import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import { answer, api } from "../api/client";
import { firstQuery } from "../api/peopleQueries";
import { sessionQuery } from "../api/queries";
import { useTitle } from "../parts/useTitle";
import { Art } from "./Art";
import { NewAccount } from "./NewAccount";
import "./signin.css";

/** The first account of an installation, for whoever has the address that its start tells. */
export default function First() {
  const token = useParams().token ?? "";
  const wanted = useQuery(firstQuery(token));
  const session = useQuery(sessionQuery);
  useTitle("The first account");
  if (wanted.isPending || session.isPending) return null;
  if (wanted.isError)
    return (
      <main className="column">
        <h1>{wanted.error.message}</h1>
        <a href="/">Sign in</a>
      </main>
    );
  const make = async (username: string, password: string) => {
    const body = { username, password };
    await answer(api.POST("/api/first/{token}", { params: { path: { token } }, body }));
    window.location.assign("/");
  };
  return (
    <main className="sign-in">
      <div>
        <h1>navrel</h1>
        <p>
          Nobody runs this installation yet. The account that you make here does: it owns every site, makes
          new ones, and invites others.
        </p>
        <NewAccount does="Make the first account" onMake={make} />
      </div>
      <Art />
    </main>
  );
}
