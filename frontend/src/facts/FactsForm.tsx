import Button from "@mui/material/Button";
import type { ReactNode } from "react";
import { FieldError } from "../conditions/FieldError";
import { ConflictBox } from "../parts/ConflictBox";
import { Chooser, LabelledField } from "../parts/controls";
import { useMessage } from "../parts/messages";
import { PageFinder } from "../parts/PageFinder";
import { SaveBar } from "../parts/SaveBar";
import { useSite } from "../parts/site";
import { useDraft } from "../parts/useDraft";
import { Weighed } from "../publish/Weighed";
import { FieldsField } from "./FieldsField";
import {
  correctionsOf,
  FACTS,
  type Facts,
  type FactsTree,
  factsOf,
  KINDS,
  type PageFacts,
  sameCorrections,
  sendFacts,
} from "./factsTree";
import { LocksField } from "./LocksField";
import { TermTree } from "./TermTree";
import { useFactWords } from "./useFactWords";

interface Props {
  page: PageFacts;
  onClose: () => void;
}

/** The facts of a page, to be corrected by hand: what is not touched goes on following what is taken in. */
export function FactsForm({ page, onClose }: Props) {
  const site = useSite();
  const tell = useMessage();
  const wordsOf = useFactWords();
  const facts = factsOf(page);
  const saved: FactsTree = { name: page.title || page.path, touched: {} };
  const taken = factsOf(page.taken);
  const editing = useDraft<FactsTree>({
    kind: "page",
    id: page.path,
    saved: { tree: saved, version: page.version },
    blank: saved,
    same: (one, other) => sameCorrections(facts, one, other),
    send: ({ touched }, version) => sendFacts(site.slug, page.path, correctionsOf(facts, touched), version),
  });
  const now = { ...facts, ...editing.tree.touched };
  const set = (changes: Partial<Facts>) =>
    editing.edit((newest) => ({ ...newest, touched: { ...newest.touched, ...changes } }));
  const told = () => {
    tell(`Saved the facts of ${page.path}. They are in the draft, not live yet.`);
    onClose();
  };
  const text = (fact: "title" | "type" | "author" | "language" | "lists", about: string) => (
    <LabelledField label={about} value={now[fact]} onChange={(next) => set({ [fact]: next })} />
  );
  const fields: Record<keyof Facts, ReactNode> = {
    title: text("title", "Title"),
    kind: (
      <Chooser
        label="Kind"
        value={now.kind}
        options={KINDS.map((kind) => [kind, kind] as const)}
        onChange={(kind) => set({ kind })}
      />
    ),
    type: text("type", "Type"),
    parent: <PageFinder label="The page above it" path={now.parent} onChoose={(parent) => set({ parent })} />,
    terms: <TermTree chosen={now.terms} onChange={(terms) => set({ terms })} />,
    lists: text("lists", "What it lists"),
    author: text("author", "Author"),
    language: text("language", "Language"),
    published: (
      <LabelledField
        label="Published"
        type="date"
        value={now.published}
        onChange={(published) => set({ published })}
      />
    ),
    fields: <FieldsField fields={now.fields} onChange={(free) => set({ fields: free })} />,
    locks: <LocksField locks={now.locks} onChange={(locks) => set({ locks })} />,
  };
  return (
    <form aria-label="Correct the facts" onSubmit={(event) => event.preventDefault()}>
      <ConflictBox editing={editing} what="page" onSaved={told} />
      <p className="mute">
        What is said here stays when the pages are taken in again; all else goes on following the files.
      </p>
      {FACTS.map(([fact, name]) => (
        <div className="fact-field" key={fact}>
          <span className="mute">{name}</span>
          <div>
            {fields[fact]}
            <FieldError problem={editing.problemUnder(`/facts/${fact}`)} />
            {page.corrected.includes(fact) && (
              <p className="mute">
                By hand; taken in: {wordsOf(fact, taken) || "none"}.{" "}
                <Button variant="text" onClick={() => set({ [fact]: taken[fact] })}>
                  As taken in
                </Button>
              </p>
            )}
          </div>
        </div>
      ))}
      {!editing.changed && (
        <Button variant="text" color="inherit" onClick={onClose}>
          Close
        </Button>
      )}
      <SaveBar
        editing={editing}
        what="page"
        onSave={async () => {
          if (await editing.save()) told();
        }}
        onDrop={() => {
          editing.drop();
          onClose();
        }}
      >
        <Weighed
          editing={editing}
          to="page"
          body={{ path: page.path, facts: correctionsOf(facts, editing.tree.touched) }}
        />
      </SaveBar>
    </form>
  );
}
