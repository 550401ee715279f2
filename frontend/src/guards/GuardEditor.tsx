import Button from "@mui/material/Button";
import Switch from "@mui/material/Switch";
import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";
import type { Shapes } from "../api/client";
import { triedGuardQuery } from "../api/queries";
import { ConditionSentence } from "../conditions/ConditionSentence";
import { CONDITION_PARTS, withTexts } from "../conditions/condition";
import { FieldError } from "../conditions/FieldError";
import { InForce } from "../conditions/InForce";
import { TextPart } from "../conditions/TextPart";
import { ConflictBox } from "../parts/ConflictBox";
import { PlainField } from "../parts/controls";
import { useMessage } from "../parts/messages";
import { useEditor } from "../parts/newDraft";
import { SaveBar } from "../parts/SaveBar";
import { useLinkTo, useSite } from "../parts/site";
import { useDebounced } from "../parts/useDebounced";
import { useDraft } from "../parts/useDraft";
import { capital } from "../parts/words";
import { DemandFields } from "./DemandFields";
import { type GuardTree, isHalfAsked, sameGuard, sendGuard } from "./guardTree";
import { Standing } from "./Standing";
import { useGuardEdits } from "./useGuards";

const BLANK: GuardTree = { name: "", condition: { include: "" }, demand: { is: "shows", slot: "" } };
/** How long what is typed rests before the guard is asked, in milliseconds. */
const REST = 120;
const LABELS = ["On pages", "But not on", "Visitors", "Not visitors"];

interface Props {
  /** The saved guard; null for a new one. */
  info: Shapes["GuardInfo"] | null;
  /** The guard's name, or the id of the new one's draft. */
  id: string;
}

/** A guard as a sentence: where, for whom and when, and what has to stay so; beside it, whether it is so. */
export function GuardEditor({ info, id }: Props) {
  const site = useSite();
  const navigate = useNavigate();
  const { onward } = useEditor(id);
  const linkTo = useLinkTo();
  const tell = useMessage();
  const edits = useGuardEdits();
  const saved = info?.guard ?? null;
  const editing = useDraft<GuardTree>({
    kind: "guard",
    id,
    saved: saved && { tree: saved, version: 0 },
    blank: BLANK,
    same: sameGuard,
    send: (tree, version) => sendGuard(site.slug, saved, tree, version),
  });
  const { tree, edit } = editing;
  const half = isHalfAsked(tree.demand);
  const asked = useDebounced(tree, REST);
  const tried = useQuery({ ...triedGuardQuery(site.slug, asked), enabled: !isHalfAsked(asked.demand) });
  const waits = half ? "Waits for what it is about, and what has to be so there" : "";
  const done = (name: string) => {
    if (name !== id) navigate(linkTo(`checks/guards/${encodeURIComponent(name)}`), onward);
    tell(`Saved the guard ${name}. It is in the draft, not live yet.`);
  };
  const save = async () => {
    const name = await editing.save();
    if (name) done(name);
    return name !== null;
  };
  const drop = () => {
    editing.drop();
    if (!info) navigate(linkTo("checks/guards"));
  };
  const condition = tree.condition ?? {};
  return (
    <>
      <div className="editor">
        <Link className="only-narrow" to={linkTo("checks/guards")}>
          All guards
        </Link>
        <div className="row">
          <PlainField
            className="name"
            label="Name of the guard"
            autoFocus={info === null}
            placeholder="Name the guard"
            value={tree.name}
            error={Boolean(editing.problemAt("/name"))}
            onChange={(name) => edit((newest) => ({ ...newest, name }))}
          />
          {saved && (
            <Button
              variant="text"
              color="error"
              onClick={() => {
                editing.drop();
                navigate(linkTo("checks/guards"));
                edits.remove(saved.name);
              }}
            >
              Remove
            </Button>
          )}
        </div>
        <FieldError problem={editing.problemAt("/name")} />
        <PlainField
          multiline
          className="note"
          label="Why it has to stay so"
          placeholder="Why does it have to stay so?"
          value={tree.note ?? ""}
          onChange={(note) => edit((newest) => ({ ...newest, note }))}
        />
        <ConflictBox editing={editing} what="guard" onSaved={() => done(tree.name)} />
        <section className="sentence" aria-label="The guard as a sentence">
          <ConditionSentence
            condition={condition}
            onChange={(texts) =>
              edit((newest) => ({ ...newest, condition: withTexts(newest.condition, texts) }))
            }
          />
          <InForce
            schedule={condition.schedule}
            problemAt={(pointer) => editing.problemAt(`/condition/schedule${pointer}`)}
            onChange={(schedule) =>
              edit((newest) => ({ ...newest, condition: { ...newest.condition, schedule } }))
            }
          />
          <DemandFields
            demand={tree.demand}
            onChange={(demand) => edit((newest) => ({ ...newest, demand }))}
          />
          <FieldError problem={editing.problemUnder("/demand")} />
        </section>
        <h2 className="part-head">The same condition as text</h2>
        <div className="texts">
          {CONDITION_PARTS.map((part, at) => (
            <TextPart
              key={part.key}
              part={part}
              label={LABELS[at] as string}
              condition={condition}
              onChange={(_, text) =>
                edit((newest) => ({ ...newest, condition: withTexts(newest.condition, [[part, text]]) }))
              }
            />
          ))}
        </div>
        <div className="row mute rule-switch">
          <Switch
            checked={tree.on ?? true}
            slotProps={{ input: { "aria-label": "Guard is on" } }}
            onChange={(event) => edit((newest) => ({ ...newest, on: event.target.checked }))}
          />
          {(tree.on ?? true) ? "The guard is on" : "The guard is off: nothing is asked"}
        </div>
        <SaveBar editing={editing} what="guard" isNew={!info} waits={waits} onSave={save} onDrop={drop} />
      </div>
      <aside className="side" aria-label="How it stands" aria-busy={tried.isFetching}>
        <h2>How it stands</h2>
        {half && <p className="mute">{waits}.</p>}
        {!half && tried.isError && <p className="mute">Waits until this is mended: {tried.error.message}</p>}
        {!half && tried.data && (
          <>
            <p>{capital(tried.data.demands)}.</p>
            <Standing info={tried.data} />
          </>
        )}
      </aside>
    </>
  );
}
