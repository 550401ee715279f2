import Button from "@mui/material/Button";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api } from "../api/client";
import { sessionQuery } from "../api/queries";
import { useTellError } from "../parts/messages";
import { Opening } from "../parts/Opening";
import { ROLE_WORDS } from "../parts/rights";
import { useSite } from "../parts/site";
import { ChangePassword } from "./ChangePassword";
import { SecondFactor } from "./SecondFactor";
import { SignIns } from "./SignIns";
import { Tokens } from "./Tokens";

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
      <SecondFactor />
      <SignIns />
      <Tokens />
      <Button variant="outlined" onClick={leave}>
        Sign out
      </Button>
    </div>
  );
}
