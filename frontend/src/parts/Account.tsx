import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { ApiError, api } from "../api/client";
import { sessionQuery } from "../api/queries";
import { useMessage, useTellError } from "./messages";
import { Opening } from "./Opening";
import { ROLE_WORDS } from "./rights";
import { useSite } from "./site";

/** Who is signed in and as what, changing the password, signing out. */
export function Account() {
  const name = useQuery(sessionQuery).data?.username ?? "";
  return (
    <Opening text={name} about="Account" color="inherit">
      {(close) => <Box name={name} onDone={close} />}
    </Opening>
  );
}

function Box({ name, onDone }: { name: string; onDone: () => void }) {
  const site = useSite();
  const client = useQueryClient();
  const tellError = useTellError();
  const leave = () =>
    api
      .DELETE("/api/session")
      .then(() => client.clear())
      .then(() => window.location.assign("/"))
      .catch(tellError);
  return (
    <div className="offers account">
      <p>
        <b>{name}</b>, {site.your_role} of {site.name}: {ROLE_WORDS[site.your_role]}
      </p>
      <ChangePassword onDone={onDone} />
      <Button variant="outlined" onClick={leave}>
        Sign out
      </Button>
    </div>
  );
}

function ChangePassword({ onDone }: { onDone: () => void }) {
  const tell = useMessage();
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const change = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    try {
      await api.PUT("/api/password", {
        body: { old: String(form.get("old")), new: String(form.get("new")) },
      });
      tell("The password is another one now; every other session has ended");
      onDone();
    } catch (error) {
      const at = (pointer: string) => (error instanceof ApiError && error.at(pointer)?.message) || "";
      const found = { old: at("/old"), new: at("/new") };
      setWrong(found.old || found.new ? found : { new: (error as Error).message });
    }
  };
  return (
    <details>
      <summary>Change the password</summary>
      <form onSubmit={change}>
        {(["old", "new"] as const).map((which) => (
          <TextField
            key={which}
            fullWidth
            required
            label={which === "old" ? "Password until now" : "New password"}
            name={which}
            type="password"
            autoComplete={which === "old" ? "current-password" : "new-password"}
            error={Boolean(wrong[which])}
            helperText={wrong[which]}
          />
        ))}
        <Button type="submit" variant="outlined">
          Change it
        </Button>
      </form>
    </details>
  );
}
