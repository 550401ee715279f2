import Button from "@mui/material/Button";
import { useQueryClient } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { NavLink, useLocation } from "react-router";
import { api } from "../api/client";
import { Boundary } from "./Boundary";
import { Figure } from "./icons";
import { Lens } from "./Lens";
import { useTellError } from "./messages";
import { useLinkTo, useSite } from "./site";
import { count } from "./words";

const VIEWS = ["pages", "rules", "pieces", "preview", "publish"];

/** The frame that every view stands in: the rail, and the bar with the site's state and the lens. */
export function Shell({ children }: { children: ReactNode }) {
  const site = useSite();
  const view = useLocation().pathname.split("/")[2];
  return (
    <div className="shell">
      <Rail edits={site.edits} />
      <header className="top">
        <h1>{site.name}</h1>
        <span className="mute clip">{standing(site.edits, site.live !== null)}</span>
        <span className="grow" />
        <Lens />
        <SignOut />
      </header>
      <main className="main">
        <Boundary key={view}>{children}</Boundary>
      </main>
    </div>
  );
}

/** How the draft stands to what is live, in words. */
function standing(edits: number, published: boolean): string {
  if (!published) return "draft, nothing live yet";
  return edits ? `draft, ${count(edits, "edit")} ahead of live` : "draft and live are the same";
}

function Rail({ edits }: { edits: number }) {
  const linkTo = useLinkTo();
  return (
    <nav className="rail" aria-label="Views">
      <b>navrel</b>
      {VIEWS.map((view) => (
        <NavLink key={view} to={linkTo(view)}>
          <Figure name={view} />
          {view.charAt(0).toUpperCase() + view.slice(1)}
          {view === "publish" && edits > 0 && (
            <>
              {" "}
              <em aria-label={count(edits, "edit")}>{edits}</em>
            </>
          )}
        </NavLink>
      ))}
      <NavLink className="last" to={linkTo("site")}>
        <Figure name="site" />
        Site
      </NavLink>
    </nav>
  );
}

function SignOut() {
  const client = useQueryClient();
  const tell = useTellError();
  const leave = () =>
    api
      .DELETE("/api/session")
      .then(() => client.clear())
      .then(() => window.location.assign("/"))
      .catch(tell);
  return (
    <Button variant="text" color="inherit" onClick={leave}>
      Sign out
    </Button>
  );
}
