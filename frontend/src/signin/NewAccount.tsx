import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { type FormEvent, useState } from "react";
import { wrongFields } from "../api/client";

interface Props {
  /** What making it comes to, on the button. */
  does: string;
  onMake: (username: string, password: string) => Promise<void>;
}

/** The fields of a new account; what is wrong with one stands under it. */
export function NewAccount({ does, onMake }: Props) {
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const submit = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    try {
      await onMake(String(form.get("username")), String(form.get("password")));
    } catch (error) {
      setWrong(wrongFields(error, ["username", "password"]));
    }
  };
  return (
    <form onSubmit={submit}>
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
      {wrong.all && (
        <p className="field-error" role="alert">
          {wrong.all}
        </p>
      )}
      <Button type="submit" variant="contained">
        {does}
      </Button>
    </form>
  );
}
