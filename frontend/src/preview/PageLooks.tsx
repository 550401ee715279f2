import { useQuery } from "@tanstack/react-query";
import type { Shapes } from "../api/client";
import { looksQuery } from "../api/queries";
import { useCommand } from "../parts/commands";
import { Frame } from "../parts/Frame";
import { useAddress, useLens, useSite } from "../parts/site";
import { useDebounced } from "../parts/useDebounced";
import { capital, count } from "../parts/words";
import { usePreview } from "./usePreview";
import { WhoSees } from "./WhoSees";

/** Looks that are drawn; more are told as a number. */
const MOST_DRAWN = 6;
/** How long a page is looked at before its looks are drawn, in milliseconds: whoever walks through pages does not wait. */
const DRAWN_AFTER = 700;

/** Every look of the page as a small real picture, with who sees it and when; a click sees it as they do. */
export function PageLooks({ path }: { path: string }) {
  const site = useSite();
  const { set } = useAddress();
  const looks = useQuery(looksQuery(site.slug, path, useLens())).data;
  const rested = useDebounced(path, DRAWN_AFTER, "") === path;
  const see = (look: Shapes["LookInfo"] | undefined) =>
    look && set({ visitor: look.visitor || null, at: look.at || null });
  const all = looks?.looks ?? [];
  const current = all.findIndex((look) => look.current);
  const step = (by: number) => see(all[(current + by + all.length) % all.length]);
  const enabled = all.length > 1;
  useCommand("Next look of the page", "Shift J", () => step(1), { hotkey: "shift+j", enabled });
  useCommand("Look of the page before", "Shift K", () => step(-1), { hotkey: "shift+k", enabled });
  if (!looks) return <section aria-label="Looks" aria-busy="true" />;
  if (!looks.told) return <p className="mute">It has more looks than can be told apart.</p>;
  return (
    <section aria-label="Looks">
      <h3>
        {looks.looks.length === 1
          ? "One look: the same for everyone, at any time from now on"
          : `${count(looks.looks.length, "look")}, over every visitor and moment from now on`}
      </h3>
      {looks.looks.length > 1 && (
        <ul className="page-looks">
          {looks.looks.slice(0, MOST_DRAWN).map((look, number) => (
            <li key={look.words} className="page-look" aria-current={look.current}>
              {rested ? <Small path={path} look={look} /> : <span className="small-picture" />}
              <button type="button" aria-pressed={look.current} onClick={() => see(look)}>
                {looks.table && <b className="look-number">{number + 1} </b>}
                {capital(look.words)}
              </button>
            </li>
          ))}
        </ul>
      )}
      {looks.looks.length > MOST_DRAWN && (
        <p className="mute">and {count(looks.looks.length - MOST_DRAWN, "more look")}</p>
      )}
      {looks.table && <WhoSees table={looks.table} current={current} onSee={(number) => see(all[number])} />}
    </section>
  );
}

function Small({ path, look }: { path: string; look: Shapes["LookInfo"] }) {
  const lens = { visitor: look.visitor, at: look.at };
  const { data } = usePreview({ key: "look", path, lens, state: "draft", trial: "" }, false, false);
  return (
    <span className="small-picture" aria-hidden="true">
      <Frame html={data?.html ?? ""} title={look.words} width={1280} height={800} />
    </span>
  );
}
