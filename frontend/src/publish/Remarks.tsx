import Button from "@mui/material/Button";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { askAnew } from "../api/anew";
import { api } from "../api/client";
import { remarksQuery } from "../api/walkQueries";
import { useTellError } from "../parts/messages";
import { useLinkTo, useSite } from "../parts/site";
import { count, when } from "../parts/words";
import "./publish.css";

/** What people without an account said about previews; of one page where that is named. */
export function Remarks({ path }: { path?: string }) {
  const site = useSite();
  const linkTo = useLinkTo();
  const client = useQueryClient();
  const tellError = useTellError();
  const asked = remarksQuery(site.slug);
  const remarks = useQuery(asked).data;
  const open = remarks?.items.filter((one) => !one.done && (path === undefined || one.path === path)) ?? [];
  if (!remarks || open.length === 0) return null;
  const dealt = async (number: number) => {
    try {
      await api.PUT("/api/sites/{site}/remarks/{number}", {
        params: { path: { site: site.slug, number } },
        body: { done: true },
      });
    } catch (error) {
      tellError(error);
    }
    await askAnew(client, { queryKey: asked.queryKey });
  };
  return (
    <section aria-label="Remarks">
      <h2>{count(open.length, "remark")} from previews</h2>
      <ul className="list">
        {open.map((one) => (
          <li key={one.id}>
            <div className="row mute">
              <span>{when(one.made)}</span>
              <span className="grow clip">{one.name || "without a name"}</span>
            </div>
            <div className="remark">{one.text}</div>
            <div className="row">
              <span className="grow">
                {path === undefined && (
                  <Link className="mono" to={linkTo("preview", { path: one.path })}>
                    {one.path}
                  </Link>
                )}
              </span>
              <Button variant="text" aria-label={`Dealt with: ${one.text}`} onClick={() => dealt(one.id)}>
                Dealt with
              </Button>
            </div>
          </li>
        ))}
      </ul>
    </section>
  );
}
