import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Shapes } from "../api/client";
import { rulesQuery, whyNotQuery } from "../api/queries";
import { PieceName } from "../parts/PieceName";
import { SearchList } from "../parts/SearchList";
import { useLens, usePieces, useSite } from "../parts/site";
import { capital, count, targetOf } from "../parts/words";
import { useChangeRule } from "../rules/useChangeRule";

type Row = Shapes["RuleRow"];
type Remedy = Shapes["RemedyInfo"];

/** Why a rule that one would have thought of does not show here, and the smallest changes after which it would. */
export function WhyNot({ path, target }: { path: string; target: string }) {
  const [asking, setAsking] = useState(false);
  const [chosen, setChosen] = useState<number | null>(null);
  return (
    <>
      <h3>Why not something else?</h3>
      {chosen !== null && (
        <Answer path={path} target={target} rule={chosen} onOther={() => setChosen(null)} />
      )}
      {chosen === null && !asking && (
        <Button variant="outlined" onClick={() => setAsking(true)}>
          Ask about a rule or a piece
        </Button>
      )}
      {chosen === null && asking && <ChooseAsked target={target} onChoose={setChosen} />}
    </>
  );
}

/** The rules that act on a target, found by their name or by what they put there. */
function ChooseAsked({ target, onChoose }: { target: string; onChoose: (rule: number) => void }) {
  const site = useSite();
  const rules = useQuery(rulesQuery(site.slug, useLens())).data ?? [];
  const { bySlug } = usePieces();
  const [text, setText] = useState("");
  const acting = rules.filter((row) => row.by_target.some((one) => one.target === target));
  const pieceOf = (row: Row) => {
    const action = row.rule.actions?.find((one) => targetOf(one) === target);
    return action?.piece ?? action?.template ?? "";
  };
  const fitting = acting.filter((row) =>
    `${row.rule.name} ${bySlug.get(pieceOf(row))?.name ?? ""}`.toLowerCase().includes(text.toLowerCase()),
  );
  return (
    <SearchList
      label="Rule or piece to ask about"
      placeholder="Part of the name of a rule or of a piece"
      options={fitting}
      keyOf={(row) => String(row.id)}
      nameOf={(row) => row.rule.name}
      text={text}
      onText={setText}
      onChoose={(row) => onChoose(row.id)}
      nothing="No rule of that name puts anything here, and none puts such a piece here."
    >
      {(row) => (
        <>
          <span className="grow clip">{row.rule.name}</span>
          <span className="count">{pieceOf(row) && <PieceName slug={pieceOf(row)} />}</span>
        </>
      )}
    </SearchList>
  );
}

interface AnswerProps {
  path: string;
  target: string;
  rule: number;
  onOther: () => void;
}

function Answer({ path, target, rule, onOther }: AnswerProps) {
  const site = useSite();
  const asked = useQuery(whyNotQuery(site.slug, { path, target, rule, ...useLens() }));
  const change = useChangeRule();
  const mend = ({ rule, tree, position, words }: Remedy) =>
    change(rule, tree, position, `Done: ${words.charAt(0).toLowerCase()}${words.slice(1)}`);
  const found = asked.data;
  return (
    <section className="why-not" aria-label="Why not" aria-busy={asked.isPending}>
      {asked.isError && <p className="field-error">{asked.error.message}</p>}
      {found && (
        <>
          <p>
            <b>{capital(found.words)}.</b>
          </p>
          {!found.shows && found.remedies.length === 0 && (
            <p className="mute">No change of a single rule would show it here through this lens.</p>
          )}
          {found.remedies.map((remedy) => (
            <Button key={remedy.words} variant="outlined" onClick={() => mend(remedy)}>
              {remedy.words}: changes {count(remedy.pages, "page")}
            </Button>
          ))}
        </>
      )}
      <Button variant="text" onClick={onOther}>
        Ask about another
      </Button>
    </section>
  );
}
