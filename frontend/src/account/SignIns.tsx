import Button from "@mui/material/Button";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { askAnew } from "../api/anew";
import { api } from "../api/client";
import { signInsQuery } from "../api/peopleQueries";
import { useAct } from "../parts/useAct";
import { count, when } from "../parts/words";
import { agentWords } from "./agentWords";

/** Where the account is signed in, and signing out everywhere else. */
export function SignIns() {
  const [open, setOpen] = useState(false);
  const found = useQuery({ ...signInsQuery, enabled: open }).data;
  const client = useQueryClient();
  const act = useAct();
  const others = found?.filter((one) => !one.this).length ?? 0;
  const end = () =>
    act(async () => {
      await api.DELETE("/api/sign-ins");
      await askAnew(client, signInsQuery);
      return `Signed out in ${count(others, "other place")}`;
    });
  return (
    <details onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary>Where you are signed in</summary>
      <ul className="plain-list" aria-label="Where you are signed in">
        {found?.map((one) => (
          <li key={`${one.since} ${one.address} ${one.agent}`} title={one.agent}>
            {agentWords(one.agent)} <span className="mono">{one.address}</span>
            <span className="mute">
              {" "}
              since {when(one.since)}
              {one.this && ", here"}
            </span>
          </li>
        ))}
      </ul>
      {others > 0 && (
        <Button variant="outlined" onClick={end}>
          Sign out everywhere else
        </Button>
      )}
    </details>
  );
}
