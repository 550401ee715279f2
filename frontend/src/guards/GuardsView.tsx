import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { guardsQuery, proposedGuardsQuery } from "../api/queries";
import { useDraftList } from "../parts/drafts";
import { isNew, useEditor } from "../parts/newDraft";
import { useLinkTo, useSite } from "../parts/site";
import { useLines } from "../parts/useLines";
import { count } from "../parts/words";
import { GuardEditor } from "./GuardEditor";
import { GuardMark } from "./GuardMark";
import { guardSentence, standingWords } from "./Standing";
import { useGuardEdits } from "./useGuards";
import { useNewGuard } from "./useNewGuard";
import "../rules/rules.css";
import "../pieces/pieces.css";
import "./guards.css";

/** What must stay so: every guard and how it stands, the editor of one, and what holds today and might be guarded. */
export function GuardsView() {
  const site = useSite();
  const linkTo = useLinkTo();
  const guards = useQuery(guardsQuery(site.slug));
  const chosen = useParams().guard;
  const { editor } = useEditor(chosen);
  const drafts = useDraftList().filter((draft) => draft.kind === "guard");
  const newGuard = useNewGuard();
  // What is broken stands first.
  const all = (guards.data?.items ?? []).toSorted((a, b) => Number(b.broken > 0) - Number(a.broken > 0));
  const info = all.find((one) => one.guard.name === chosen) ?? null;
  const fresh = drafts.filter(({ id }) => isNew(id) && !all.some((one) => one.guard.name === id));
  const { tabIndex, list } = useLines(
    [...fresh.map((draft) => draft.id), ...all.map((one) => one.guard.name)],
    chosen,
  );
  if (guards.isError) return <p className="note-box bad">{guards.error.message}</p>;
  return (
    <>
      <nav className="rule-list" aria-label="Guards" aria-busy={!guards.data}>
        <div className="row" style={{ padding: "9px 10px 6px" }}>
          <Link to={linkTo("checks")}>Findings</Link>
          <span className="grow" />
          <Button
            variant="outlined"
            onClick={() => newGuard({ name: "", demand: { is: "shows", slot: "" } })}
          >
            New guard
          </Button>
        </div>
        <div className="bands">
          <p className="mute guards-said" role="status">
            {guards.data && (all.length ? standingWords(all) : "No guards yet")}
          </p>
          <ol {...list}>
            {fresh.map((draft) => (
              <li
                key={draft.id}
                data-line={draft.id}
                className={draft.id === chosen ? "rule-item on" : "rule-item"}
              >
                <Link
                  tabIndex={tabIndex(draft.id)}
                  className="grow plainly"
                  to={linkTo(`checks/guards/${draft.id}`)}
                  aria-current={draft.id === chosen}
                >
                  <b className="clip">{draft.name || "New guard"}</b>
                  <span className="sub unsaved">new, not saved yet</span>
                </Link>
              </li>
            ))}
            {all.map((one) => {
              const { name } = one.guard;
              const on = one.guard.on ?? true;
              const state = !on ? "off" : one.broken ? "broken" : one.reached ? "holds" : "idle";
              return (
                <li
                  key={name}
                  data-line={name}
                  className={["rule-item guard", state, name === chosen && "on"].filter(Boolean).join(" ")}
                >
                  <Link
                    tabIndex={tabIndex(name)}
                    className="grow plainly"
                    to={linkTo(`checks/guards/${encodeURIComponent(name)}`)}
                    aria-current={name === chosen}
                  >
                    <span className="row">
                      <GuardMark state={state} />
                      <b className="clip grow">{name}</b>
                    </span>
                    {drafts.some((draft) => draft.id === name) && (
                      <span className="sub unsaved">edited, not saved</span>
                    )}
                    <span className="sub clip" title={guardSentence(one)}>
                      {guardSentence(one)}
                    </span>
                    {one.who !== "everyone" && <span className="sub who clip">for {one.who}</span>}
                    {one.broken > 0 && <span className="sub bad">broken on {count(one.broken, "page")}</span>}
                  </Link>
                </li>
              );
            })}
          </ol>
          <Proposed />
        </div>
      </nav>
      {(info || isNew(chosen)) && <GuardEditor key={editor} id={chosen ?? ""} info={info} />}
      {!info && !isNew(chosen) && guards.data && (
        <div className="column">
          <p className="mute">
            {chosen
              ? "This guard is not there any more."
              : "A guard says what must stay so on some pages. It is asked after every edit, for every visitor and time, and stops publishing while it is broken."}
          </p>
        </div>
      )}
    </>
  );
}

/** What holds today and that nobody has written: one click keeps it so. */
function Proposed() {
  const site = useSite();
  const proposed = useQuery(proposedGuardsQuery(site.slug)).data;
  const edits = useGuardEdits();
  if (!proposed || proposed.length === 0) return null;
  return (
    <section aria-label="Holds today">
      <h2 className="band">Holds today: keep it so?</h2>
      <ul className="plain-list proposed">
        {proposed.map((one) => (
          <li key={one.guard.name} className="row">
            <span className="grow" title={guardSentence(one)}>
              {one.guard.name} <span className="mute">{count(one.reached, "page")}</span>
            </span>
            <Button
              variant="text"
              size="small"
              aria-label={`Keep it so: ${one.guard.name}`}
              onClick={() => edits.make(one.guard)}
            >
              Keep it so
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
