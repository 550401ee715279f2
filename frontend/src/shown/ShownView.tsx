import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { useParams, useSearchParams } from "react-router";
import { api } from "../api/client";
import { sharedPageQuery, sharedQuery } from "../api/walkQueries";
import { LabelledField, Segments } from "../parts/controls";
import { Frame } from "../parts/Frame";
import { useTitle } from "../parts/useTitle";
import { WIDTH_NAMES, WIDTHS, type Width } from "../parts/widths";
import { when } from "../parts/words";
import "./shown.css";

/** Pages of a draft for somebody without an account, who has been sent a link to them. */
export default function ShownView() {
  const token = useParams().token ?? "";
  const [params, setParams] = useSearchParams();
  const [width, setWidth] = useState<Width>("desktop");
  const shared = useQuery(sharedQuery(token));
  const pages = shared.data?.pages ?? [];
  const path = pages.find((page) => page.path === params.get("path"))?.path ?? pages[0]?.path ?? "";
  const drawn = useQuery({ ...sharedPageQuery(token, path), enabled: path !== "" });
  useTitle(shared.data ? `${path} · Draft of ${shared.data.site}` : "Preview");
  const go = (to: string) => pages.some((page) => page.path === to) && setParams({ path: to });
  if (shared.isPending) return <main className="shown" aria-busy="true" />;
  if (shared.isError)
    return (
      <main className="column">
        <h1>{shared.error.message}</h1>
        <p className="mute">Ask whoever sent the link for another.</p>
      </main>
    );
  return (
    <main className="shown">
      <header className="row">
        <h1>{shared.data.site}</h1>
        <b className="draft-word">Draft, not live</b>
        <span className="grow mute">This preview ends on {when(shared.data.ends)}</span>
        <Segments label="Width" value={width} options={WIDTH_NAMES} onChange={setWidth} />
      </header>
      {pages.length === 0 && <p>None of its pages is there any more.</p>}
      <div className="shown-pages">
        {drawn.isError ? (
          <p className="note-box">{drawn.error.message}</p>
        ) : (
          <Frame
            html={drawn.data?.path === path ? drawn.data.html : ""}
            title={drawn.data?.title ?? path}
            width={WIDTHS[width]}
            onLink={go}
          />
        )}
        <aside aria-label="Pages and remarks">
          {pages.length > 1 && (
            <nav aria-label="Pages of this preview">
              {pages.map((page) => (
                <button
                  type="button"
                  key={page.path}
                  className="plain"
                  aria-current={page.path === path ? "page" : undefined}
                  onClick={() => go(page.path)}
                >
                  {page.title}
                </button>
              ))}
            </nav>
          )}
          {path && <RemarkForm key={path} token={token} path={path} />}
        </aside>
      </div>
    </main>
  );
}

function RemarkForm({ token, path }: { token: string; path: string }) {
  const [text, setText] = useState("");
  const [name, setName] = useState("");
  const [said, setSaid] = useState("");
  const [busy, setBusy] = useState(false);
  const send = async (event: FormEvent) => {
    event.preventDefault();
    setBusy(true);
    try {
      await api.POST("/api/shared/{token}/remarks", {
        params: { path: { token } },
        body: { path, name, text },
      });
      setSaid("Your remark has been left with those who edit the site.");
      setText("");
    } catch (error) {
      setSaid((error as Error).message);
    }
    setBusy(false);
  };
  return (
    <form onSubmit={send} aria-label="Remark">
      <h2>A remark about this page</h2>
      <LabelledField
        label="Your remark"
        rows={4}
        value={text}
        placeholder="What should be otherwise?"
        onChange={setText}
      />
      <LabelledField label="Your name" value={name} placeholder="Your name, if you like" onChange={setName} />
      <Button
        type="submit"
        variant="contained"
        disabled={busy || !text.trim()}
        title={text.trim() ? undefined : "Waits for a remark"}
      >
        Leave the remark
      </Button>
      <p role="status">{said}</p>
    </form>
  );
}
