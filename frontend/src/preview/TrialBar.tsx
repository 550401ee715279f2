import Button from "@mui/material/Button";
import { useQueryClient } from "@tanstack/react-query";
import { answered } from "../api/anew";
import { answer, api, type Shapes } from "../api/client";
import { traceQuery } from "../api/queries";
import type { Walk } from "../api/walkQueries";
import { doingText, pinnedText } from "../pages/newRule";
import { useLens, usePieces, useSite } from "../parts/site";
import { useAct } from "../parts/useAct";
import { outcomeText, targetName, targetOf } from "../parts/words";
import { useNewRule } from "../rules/useNewRule";

type Action = Shapes["ActionTree"];

interface Props {
  actions: Action[];
  /** The page that it is seen on; undefined until it has come. */
  page: Shapes["PreviewInfo"] | undefined;
  walk: Walk | null;
  onChange: (actions: Action[]) => void;
  /** Whether the draft as it is can be put beside it. */
  onPlain: (() => void) | null;
}

/** That what is seen is a trial, what of it does not show here, and the pin or the rule that would keep it. */
export function TrialBar({ actions, page, walk, onChange, onPlain }: Props) {
  const site = useSite();
  const lens = useLens();
  const client = useQueryClient();
  const act = useAct();
  const newRule = useNewRule();
  const { bySlug } = usePieces();
  const nameOf = (slug: string) => bySlug.get(slug)?.name ?? slug;
  const keepHere = (path: string) =>
    act(async () => {
      for (const action of actions) {
        const { pin } = await answered(client, traceQuery(site.slug, path, targetOf(action), lens));
        await answer(
          api.PUT("/api/sites/{site}/pins", {
            params: { path: { site: site.slug } },
            body: { path, action, priority: pin.wins ? null : pin.priority },
          }),
        );
      }
      onChange([]);
      return `Pinned on ${path}. It is in the draft, not live yet.`;
    });
  const first = actions[0];
  const makeRule = (path: string) =>
    first &&
    newRule({
      name: named(first, nameOf).slice(0, 80),
      condition: { include: walk?.pages === "search" && walk.query ? walk.query : `page:"${path}"` },
      actions,
    });
  return (
    <div className="trial" role="status">
      <b>On trial</b>
      {actions.map((action) => {
        const target = targetOf(action);
        const seen = page?.targets.find((one) => one.target === target);
        return (
          <span key={target} className="tried-on">
            {targetName(target)}: {pinnedText(action, nameOf)}
            {seen && whyUnseen(seen, action, nameOf)}
            <button
              type="button"
              className="plain"
              aria-label={`Take off ${targetName(target)}`}
              onClick={() => onChange(actions.filter((one) => one !== action))}
            >
              ×
            </button>
          </span>
        );
      })}
      <span className="grow mute">Seen by you alone; no edit.</span>
      {onPlain && (
        <Button variant="text" onClick={onPlain}>
          + draft as it is
        </Button>
      )}
      {page && !page.instead && (
        <>
          <Button variant="outlined" onClick={() => keepHere(page.path)}>
            Keep it on this page
          </Button>
          <Button variant="outlined" onClick={() => makeRule(page.path)}>
            Make a rule of it
          </Button>
        </>
      )}
      <Button variant="text" onClick={() => onChange([])}>
        End the trial
      </Button>
    </div>
  );
}

const named = (action: Action, nameOf: (slug: string) => string) =>
  action.piece || action.template ? pinnedText(action, nameOf) : doingText(action);

/** Why a page does not show what is tried on. */
function whyUnseen(seen: Shapes["PreviewTarget"], action: Action, nameOf: (slug: string) => string) {
  const { outcome } = seen;
  if (outcome.state === "locked") return <i className="warn">: locked here</i>;
  if (!seen.seated && action.do === "fill") return <i className="warn">: no place in this template</i>;
  const slug = action.piece ?? action.template;
  if (slug && !outcome.pieces.includes(slug))
    return <i className="warn">: shows {outcomeText(outcome, nameOf)}</i>;
  return null;
}
