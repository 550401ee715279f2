import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { askAnew } from "../api/anew";
import { api, wrongFields } from "../api/client";
import { signInsQuery } from "../api/peopleQueries";
import { useMessage } from "../parts/messages";

/** Another password for the account; every other session ends with it. */
export function ChangePassword({ onDone }: { onDone: () => void }) {
  const tell = useMessage();
  const client = useQueryClient();
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const change = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    try {
      await api.PUT("/api/password", {
        body: { old: String(form.get("old")), new: String(form.get("new")) },
      });
      tell("The password is another one now; every other session has ended");
      await askAnew(client, signInsQuery);
      onDone();
    } catch (error) {
      const { all, ...found } = wrongFields(error, ["old", "new"]);
      setWrong(all ? { new: all } : found);
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
