import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { pageQuery } from "../api/queries";
import { useDraftList } from "../parts/drafts";
import { useAddress, useSite } from "../parts/site";
import { figure } from "../parts/words";
import { FactsForm } from "./FactsForm";
import { FACTS, factsOf, type PageFacts } from "./factsTree";
import { useFactWords } from "./useFactWords";
import "./facts.css";

/** The facts of a page, those that were corrected by hand told apart, and their form where the site allows one. */
export function Facts({ path }: { path: string }) {
  const site = useSite();
  const { get, set } = useAddress();
  const page = useQuery(pageQuery(site.slug, path)).data;
  const unsaved = useDraftList().some((draft) => draft.kind === "page" && draft.id === path);
  if (!page) return null;
  return (
    <section aria-label="Facts" className="page-facts">
      <h3>Facts</h3>
      {site.by_hand && get("facts") === "edit" ? (
        <FactsForm key={path} page={page} onClose={() => set({ facts: null })} />
      ) : (
        <>
          <FactsTold page={page} />
          {site.by_hand ? (
            <Button variant="outlined" onClick={() => set({ facts: "edit" })}>
              {unsaved ? "Go on correcting them" : "Correct them"}
            </Button>
          ) : (
            <p className="mute">They are as they were taken in: the site allows no corrections.</p>
          )}
        </>
      )}
    </section>
  );
}

function FactsTold({ page }: { page: PageFacts }) {
  const wordsOf = useFactWords();
  const facts = factsOf(page);
  const told = FACTS.filter(([fact]) => wordsOf(fact, facts) || page.corrected.includes(fact));
  return (
    <dl>
      {told.map(([fact, name]) => (
        <Fact key={fact} name={name} corrected={page.corrected.includes(fact)}>
          {wordsOf(fact, facts) || <span className="mute">none</span>}
        </Fact>
      ))}
      <Fact name="words">{figure(page.words)}</Fact>
    </dl>
  );
}

function Fact({
  name,
  corrected = false,
  children,
}: {
  name: string;
  corrected?: boolean;
  children: ReactNode;
}) {
  return (
    <>
      <dt className="mute">{name}</dt>
      <dd>
        {children}
        {corrected && (
          <>
            {" "}
            <span className="tag" title="It stays so when the pages are taken in again">
              by hand
            </span>
          </>
        )}
      </dd>
    </>
  );
}
