import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Walk, walkQuery } from "../api/walkQueries";
import { Opening } from "../parts/Opening";
import { QueryField } from "../parts/QueryField";
import { useLens, useSite } from "../parts/site";
import { count } from "../parts/words";

/** Which pages to go through one by one. */
export function WalkMenu({ onWalk }: { onWalk: (walk: Walk) => void }) {
  return (
    <Opening text="Walk …" variant="outlined" about="Walk through pages">
      {(close) => (
        <Choices
          onWalk={(walk) => {
            close();
            onWalk(walk);
          }}
        />
      )}
    </Opening>
  );
}

function Choices({ onWalk }: { onWalk: (walk: Walk) => void }) {
  const [query, setQuery] = useState("");
  return (
    <div className="offers">
      <p className="mute">Go through pages one by one, and say of each whether it is fine.</p>
      <Choice walk={{ pages: "changed", query: "" }} what="that publishing changes" onWalk={onWalk} />
      <Choice walk={{ pages: "layouts", query: "" }} what="one of each layout" onWalk={onWalk} />
      <p className="mute">The pages of a search</p>
      <form
        className="row"
        onSubmit={(event) => {
          event.preventDefault();
          if (query.trim()) onWalk({ pages: "search", query: query.trim() });
        }}
      >
        <QueryField label="Pages to walk through" value={query} onChange={setQuery} />
        <Button
          type="submit"
          variant="outlined"
          disabled={!query.trim()}
          title={query.trim() ? undefined : "Waits for a search"}
        >
          Walk
        </Button>
      </form>
    </div>
  );
}

function Choice({ walk, what, onWalk }: { walk: Walk; what: string; onWalk: (walk: Walk) => void }) {
  const found = useQuery(walkQuery(useSite().slug, walk, useLens())).data;
  if (found?.total === 0) return <p className="mute">No page {what}</p>;
  return (
    <Button variant="text" sx={{ justifyContent: "start" }} onClick={() => onWalk(walk)}>
      {found ? count(found.total, "page") : "Pages"} {what}
    </Button>
  );
}
