import Button from "@mui/material/Button";
import Popover from "@mui/material/Popover";
import TextField from "@mui/material/TextField";
import { type FormEvent, type ReactNode, useState } from "react";
import { useNavigate } from "react-router";
import { ApiError, type Shapes } from "../api/client";
import { useMessage } from "../parts/messages";
import { useLinkTo, useRefresh } from "../parts/site";

interface Props {
  /** What stands on the button that opens the form. */
  label: string;
  title: string;
  nameLabel: string;
  submit: string;
  main?: boolean;
  /** Fields above the name. */
  children?: ReactNode;
  /** Makes the piece; a refusal is shown under its name. */
  make: (form: FormData) => Promise<Shapes["PieceInfo"]>;
  /** What is said when it is made. */
  said: (made: Shapes["PieceInfo"]) => string;
}

/** A small form that makes a piece under a name and leads to it. A refused name is told with the reason. */
export function NamedForm({ label, title, nameLabel, submit, main, children, make, said }: Props) {
  const navigate = useNavigate();
  const linkTo = useLinkTo();
  const refresh = useRefresh();
  const tell = useMessage();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [problem, setProblem] = useState("");
  const send = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    try {
      const made = await make(new FormData(event.currentTarget));
      await refresh();
      tell(said(made));
      navigate(linkTo(`pieces/${made.slug}`));
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : String(error));
    }
  };
  return (
    <>
      <Button
        variant={main ? "contained" : "text"}
        aria-haspopup="dialog"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        {label}
      </Button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: "bottom", horizontal: "right" }}
        transformOrigin={{ vertical: "top", horizontal: "right" }}
      >
        <form className="popover" onSubmit={send} style={{ display: "grid", gap: 10 }} aria-label={title}>
          {children}
          <TextField
            autoFocus
            fullWidth
            name="name"
            label={nameLabel}
            error={problem !== ""}
            helperText={problem && <span role="alert">{problem}</span>}
          />
          <Button type="submit" variant="contained">
            {submit}
          </Button>
        </form>
      </Popover>
    </>
  );
}
