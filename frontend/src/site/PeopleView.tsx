import Button from "@mui/material/Button";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { askAnew } from "../api/anew";
import { answer, api } from "../api/client";
import { invitationsQuery, peopleKey, peopleQuery } from "../api/peopleQueries";
import { AddressField } from "../parts/AddressField";
import { Chooser } from "../parts/controls";
import { useMessage, useTellError } from "../parts/messages";
import { ROLE_WORDS, ROLES, type Role, useLacking } from "../parts/rights";
import { useLinkTo, useRefresh, useSite } from "../parts/site";
import { when } from "../parts/words";

const OPTIONS = ROLES.map((role) => [role, `${role}: ${ROLE_WORDS[role]}`] as const);

/** Who may do what at the site, and inviting others. */
export function PeopleView() {
  const linkTo = useLinkTo();
  return (
    <>
      <div className="column">
        <People />
      </div>
      <aside className="side" aria-label="What each role may do">
        <h2>Roles</h2>
        {ROLES.map((role) => (
          <div className="fact-row" key={role}>
            <span className="mute">{role}</span>
            <span>{ROLE_WORDS[role]}</span>
          </div>
        ))}
        <p className="mute" style={{ margin: "12px 0" }}>
          Each may do what those above may.
        </p>
        <Link to={linkTo("site")}>The site</Link>
      </aside>
    </>
  );
}

function People() {
  const site = useSite();
  const lacking = useLacking("owner");
  const people = useQuery(peopleQuery(site.slug)).data ?? [];
  const act = useChange();
  const path = { site: site.slug };
  const give = (name: string, role: Role) =>
    act(
      () =>
        api.PUT("/api/sites/{site}/people/{name}", { params: { path: { ...path, name } }, body: { role } }),
      `${name} is ${role} now`,
    );
  const takeOut = (name: string) =>
    act(
      () => api.DELETE("/api/sites/{site}/people/{name}", { params: { path: { ...path, name } } }),
      `${name} is nothing at this site any more`,
    );
  return (
    <section aria-label="People" className="people">
      <h2>People</h2>
      <ul className="list">
        {people.map((person) => (
          <li key={person.name} className="row">
            <b className="grow clip">
              {person.name}
              {person.you && <span className="mute"> · you</span>}
            </b>
            {lacking ? (
              <span className="mute">
                {person.role}: {ROLE_WORDS[person.role]}
              </span>
            ) : (
              <>
                <Chooser
                  label={`Role of ${person.name}`}
                  value={person.role}
                  options={OPTIONS}
                  onChange={(role) => give(person.name, role)}
                />
                <Button
                  variant="text"
                  aria-label={`Take out ${person.name}`}
                  onClick={() => takeOut(person.name)}
                >
                  Take out
                </Button>
              </>
            )}
          </li>
        ))}
      </ul>
      {lacking ? <p className="mute">{lacking}.</p> : <Invite />}
    </section>
  );
}

/** Carry something out about people: they are asked anew, and so is what oneself may do. */
function useChange() {
  const site = useSite();
  const client = useQueryClient();
  const refresh = useRefresh();
  const tell = useMessage();
  const tellError = useTellError();
  return async (work: () => Promise<unknown>, said: string) => {
    try {
      await work();
      tell(said);
    } catch (error) {
      tellError(error);
    }
    await askAnew(client, { queryKey: peopleKey(site.slug) });
    await refresh();
  };
}

const addressOf = (token: string) => `${window.location.origin}/_join/${token}`;

function Invite() {
  const site = useSite();
  const act = useChange();
  const [role, setRole] = useState<Role>("editor");
  const [fresh, setFresh] = useState("");
  const open = useQuery(invitationsQuery(site.slug)).data ?? [];
  const invite = () =>
    act(async () => {
      const params = { path: { site: site.slug } };
      const made = await answer(api.POST("/api/sites/{site}/invitations", { params, body: { role } }));
      setFresh(addressOf(made.token));
    }, `Whoever opens the address within a week can join as ${role}`);
  const takeBack = (number: number) =>
    act(async () => {
      const params = { path: { site: site.slug, number } };
      await api.DELETE("/api/sites/{site}/invitations/{number}", { params });
      setFresh("");
    }, "The invitation is taken back");
  return (
    <>
      <h3>Invite somebody</h3>
      <div className="row" style={{ flexWrap: "wrap" }}>
        <Chooser label="Invited as" value={role} options={OPTIONS} onChange={setRole} />
        <Button variant="outlined" onClick={invite}>
          Make an invitation
        </Button>
      </div>
      {fresh && (
        <AddressField
          label="Address of the invitation"
          address={fresh}
          help="Send this address; it can be taken once."
        />
      )}
      <ul className="list" aria-label="Open invitations">
        {open.map((one) => (
          <li key={one.id} className="row">
            <span className="grow">
              {one.role}, until {when(one.ends)}
            </span>
            <Button variant="text" onClick={() => setFresh(addressOf(one.token))}>
              Address
            </Button>
            <Button
              variant="text"
              aria-label={`Take back the invitation as ${one.role} until ${when(one.ends)}`}
              onClick={() => takeBack(one.id)}
            >
              Take back
            </Button>
          </li>
        ))}
      </ul>
    </>
  );
}
