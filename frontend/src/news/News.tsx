import Button from "@mui/material/Button";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import { askAnew } from "../api/anew";
import { answer, api } from "../api/client";
import { newsKey, newsQuery, unreadQuery } from "../api/peopleQueries";
import { useTellError } from "../parts/messages";
import { Opening } from "../parts/Opening";
import { useRested, useSite } from "../parts/site";
import { count, when } from "../parts/words";

/** How long the address of a feed holds, in days. */
const FEED_LASTS = 365;

/** What others did, or the clock, with how much of it is not read yet. */
export function News() {
  const site = useSite();
  const unread = useQuery({ ...unreadQuery(site.slug), enabled: useRested() }).data ?? 0;
  const text = (
    <>
      News
      {unread > 0 && <em className="unread">{unread} new</em>}
    </>
  );
  return (
    <Opening text={text} about="News" color="inherit">
      {(close) => <Box onDone={close} />}
    </Opening>
  );
}

function Box({ onDone }: { onDone: () => void }) {
  const site = useSite();
  const client = useQueryClient();
  const found = useQuery(newsQuery(site.slug)).data;
  const last = found?.[0]?.id;
  // What is looked at is read; it stays marked while the box is open.
  useEffect(() => {
    if (last === undefined) return;
    api
      .PUT("/api/sites/{site}/news/unread", { params: { path: { site: site.slug } }, body: { last } })
      .then(() => askAnew(client, { queryKey: [...newsKey(site.slug), "unread"] }))
      // It is read again the next time.
      .catch(() => undefined);
  }, [client, site.slug, last]);
  if (!found) return <p className="mute news">Asking for what is new …</p>;
  return (
    <div className="news">
      {found.length === 0 && (
        <p className="mute">
          Nothing yet. Here stand guards that somebody else's edit broke, publications, what is about to begin
          or end, and remarks on previews.
        </p>
      )}
      <ul className="plain-list" aria-label="News">
        {found.map((one) => (
          <li key={one.id} className={one.unread ? "fresh" : ""}>
            <Link to={`/${site.slug}/${one.to}`} onClick={onDone}>
              {one.words}
            </Link>
            <span className="mute"> {when(one.made)}</span>
          </li>
        ))}
      </ul>
      <Feed />
    </div>
  );
}

/** The same as a feed, at an address that holds a token. */
function Feed() {
  const site = useSite();
  const tellError = useTellError();
  const [address, setAddress] = useState("");
  const make = async () => {
    try {
      const body = { name: "News as a feed", site: site.slug, role: "viewer" as const, days: FEED_LASTS };
      const { token } = await answer(api.POST("/api/tokens", { body }));
      setAddress(`${window.location.origin}/api/sites/${site.slug}/news.atom?token=${token}`);
    } catch (error) {
      tellError(error);
    }
  };
  if (!address)
    return (
      <Button variant="text" onClick={make}>
        As a feed for a reader
      </Button>
    );
  return (
    <p className="note-box" role="status">
      An Atom feed for {count(FEED_LASTS, "day")}, told only now; whoever has the address reads it. It is
      taken back under your name, with the tokens. <code className="mono token-text">{address}</code>
    </p>
  );
}
