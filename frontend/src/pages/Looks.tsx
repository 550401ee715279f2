import { useQuery } from "@tanstack/react-query";
import type { Shapes } from "../api/client";
import { looksQuery } from "../api/queries";
import { useAddress, useLens, usePieces, useSite } from "../parts/site";
import { capital, count, outcomeText, targetName, when } from "../parts/words";

type Look = Shapes["LookInfo"];

/** Every look of a page: who sees which, and when. A click looks through a lens that sees it. */
export function Looks({ path }: { path: string }) {
  const site = useSite();
  const { set } = useAddress();
  const looks = useQuery(looksQuery(site.slug, path, useLens())).data;
  if (!looks) return null;
  if (!looks.told)
    return (
      <>
        <h3>Looks of this page</h3>
        <p className="mute">More combinations of visitors and times than can be told apart.</p>
      </>
    );
  if (looks.looks.length === 1)
    return (
      <>
        <h3>Looks of this page</h3>
        <p className="mute">One: the same for everyone, at any time from now on.</p>
      </>
    );
  return (
    <>
      <h3>{count(looks.looks.length, "look")} of this page</h3>
      <ul className="looks" aria-label="Looks of this page">
        {looks.looks.map((look) => (
          <li key={look.words}>
            <button
              type="button"
              className="look"
              aria-current={look.current}
              title="See the site as they do"
              onClick={() => set({ visitor: look.visitor || null, at: look.at || null })}
            >
              <b>{capital(look.words)}</b>
              <Differences look={look} />
            </button>
          </li>
        ))}
      </ul>
      {looks.seen_until && <p className="mute">Looked at up to {when(looks.seen_until)}.</p>}
    </>
  );
}

function Differences({ look }: { look: Look }) {
  const { bySlug } = usePieces();
  const nameOf = (slug: string) => bySlug.get(slug)?.name;
  const told = [
    ...look.differs.map((one) => `${targetName(one.target)}: ${outcomeText(one.outcome, nameOf)}`),
    ...look.sidebars.map((one) => {
      const shows = one.shows.map((slug) => nameOf(slug) ?? slug).join(", ");
      return `in ${nameOf(one.piece) ?? one.piece}: ${shows || "nothing"}`;
    }),
  ];
  return <span className="mute">{told.join(" · ")}</span>;
}
