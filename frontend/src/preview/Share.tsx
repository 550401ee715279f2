import Button from "@mui/material/Button";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { askAnew } from "../api/anew";
import { answer, api } from "../api/client";
import { siteKey } from "../api/queries";
import { previewLinksQuery, type Walk, walkQuery } from "../api/walkQueries";
import { AddressField } from "../parts/AddressField";
import { Chooser } from "../parts/controls";
import { useMessage, useTellError } from "../parts/messages";
import { Opening } from "../parts/Opening";
import { useLens, useSite } from "../parts/site";
import { count, when } from "../parts/words";

const LASTS = [
  ["24", "a day"],
  ["72", "three days"],
  ["168", "a week"],
  ["720", "thirty days"],
] as const;

/** Pages in one link. */
const MOST_SHARED = 200;

interface Props {
  path: string;
  walk: Walk | null;
}

/** A link to the page, or the walk, for a colleague without an account. */
export function Share({ path, walk }: Props) {
  return (
    <Opening text="Share …" variant="outlined" about="Show a colleague">
      {() => <Links path={path} walk={walk} />}
    </Opening>
  );
}

const addressOf = (token: string) => `${window.location.origin}/_preview/${token}`;

function Links({ path, walk }: Props) {
  const site = useSite();
  const lens = useLens();
  const client = useQueryClient();
  const tell = useMessage();
  const tellError = useTellError();
  const [lasts, setLasts] = useState<string>("72");
  const [fresh, setFresh] = useState("");
  const walked = useQuery({
    ...walkQuery(site.slug, walk ?? { pages: "changed", query: "" }, lens),
    enabled: walk !== null,
  }).data;
  const links = useQuery(previewLinksQuery(site.slug)).data ?? [];
  const again = () => askAnew(client, { queryKey: [...siteKey(site.slug), "preview-links"] });
  const share = async (paths: string[]) => {
    try {
      const made = await answer(
        api.POST("/api/sites/{site}/preview-links", {
          params: { path: { site: site.slug } },
          body: { paths, hours: Number(lasts), ...lens },
        }),
      );
      setFresh(addressOf(made.token));
    } catch (error) {
      tellError(error);
    }
    await again();
  };
  const copy = async () => {
    try {
      await navigator.clipboard.writeText(fresh);
      tell("Copied");
    } catch {
      tell("The browser lets nothing be copied: choose the address and copy it by hand");
    }
  };
  const end = async (id: number) => {
    try {
      await api.DELETE("/api/sites/{site}/preview-links/{number}", {
        params: { path: { site: site.slug, number: id } },
      });
    } catch (error) {
      tellError(error);
    }
    await again();
  };
  const paths = walked?.items.map((one) => one.path).slice(0, MOST_SHARED) ?? [];
  return (
    <div className="offers">
      <p className="mute">
        Whoever has the address sees the draft of these pages as it is then, and nothing else, without an
        account; and can leave remarks.
      </p>
      <div className="row">
        <span>It ends after</span>
        <Chooser label="How long it lasts" value={lasts} options={LASTS} onChange={setLasts} />
      </div>
      <div className="row">
        <Button variant="outlined" onClick={() => share([path])}>
          Link to this page
        </Button>
        {walk && walked && walked.total > 0 && walked.total <= MOST_SHARED && (
          <Button variant="outlined" onClick={() => share(paths)}>
            Link to the {count(walked.total, "page")} of the walk
          </Button>
        )}
      </div>
      {walk && walked && walked.total > MOST_SHARED && (
        <p className="mute">A walk of more than {MOST_SHARED} pages cannot be shown by one link.</p>
      )}
      {fresh && (
        <div className="row" style={{ width: "100%" }}>
          <AddressField label="Address for your colleague" address={fresh} />
          <Button variant="text" onClick={copy}>
            Copy
          </Button>
        </div>
      )}
      {links.length > 0 && <p className="mute">Open links</p>}
      <ul className="list" aria-label="Open links">
        {links.map((link) => (
          <li key={link.id} className="row">
            <span className="grow clip" title={link.paths.join(", ")}>
              {link.paths.length === 1 ? link.paths[0] : count(link.paths.length, "page")}, until{" "}
              {when(link.ends)}
            </span>
            <Button variant="text" onClick={() => setFresh(addressOf(link.token))}>
              Address
            </Button>
            <Button
              variant="text"
              aria-label={`End the link to ${link.paths.length === 1 ? link.paths[0] : count(link.paths.length, "page")}`}
              onClick={() => end(link.id)}
            >
              End
            </Button>
          </li>
        ))}
      </ul>
    </div>
  );
}
