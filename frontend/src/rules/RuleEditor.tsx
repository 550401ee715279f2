import Button from "@mui/material/Button";
import Switch from "@mui/material/Switch";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { answer, api, Problem, type Shapes } from "../api/client";
import { reachQuery, readQueryQuery } from "../api/queries";
import { useDraft } from "../parts/drafts";
import { useMessage } from "../parts/messages";
import { QueryField } from "../parts/QueryField";
import { useAddress, useLens, useLinkTo, useRefresh, useSite } from "../parts/site";
import { useDebounced } from "../parts/useDebounced";
import { count, specificityText } from "../parts/words";
import { Actions } from "./Actions";
import { CONDITION_PARTS, isHalfMade, type RuleTree, sameRule } from "./drafts";
import { FieldError } from "./FieldError";
import { ReachPanel } from "./ReachPanel";
import { ScheduleFields } from "./ScheduleFields";
import { Line, Sentence, type SentenceProps } from "./Sentence";

interface Props {
  /** The saved rule; null for a new one. */
  row: Shapes["RuleRow"] | null;
  /** The rule's id, or that of the new rule's draft. */
  id: string;
  onCopy?: () => void;
  onRemove?: () => void;
}

type Part = (typeof CONDITION_PARTS)[number];

/** How each of the four queries is read out as part of the sentence. */
const SENTENCES: Record<Part["key"], Pick<SentenceProps, "tone" | "leads" | "empty" | "add">> = {
  include: { tone: "", leads: ["On pages", "or"], empty: "none yet", add: "pages" },
  exclude: { tone: "against", leads: ["but not on", "nor on"], empty: "nothing left out", add: "but not" },
  visitorsInclude: { tone: "who", leads: ["seen by", "or by"], empty: "everyone", add: "only" },
  visitorsExclude: { tone: "who", leads: ["but not by", "nor by"], empty: "nobody left out", add: "but not" },
};
const TEXT_LABELS: Record<Part["key"], string> = {
  include: "Include",
  exclude: "Exclude",
  visitorsInclude: "Visitors",
  visitorsExclude: "Not visitors",
};

const BLANK: RuleTree = { name: "", condition: { include: "" }, actions: [] };

/** A rule as a sentence of tokens and as text, with its reach beside it. */
export function RuleEditor({ row, id, onCopy, onRemove }: Props) {
  const site = useSite();
  const lens = useLens();
  const { get, set } = useAddress();
  const saving = useSaving(row, id);
  const { tree, edit } = saving;
  const condition = tree.condition ?? {};
  const setPart = (part: Part, text: string) => edit({ ...tree, condition: part.write(condition, text) });
  const actions = (tree.actions ?? []).filter((action) => !isHalfMade(action));
  const asked = useDebounced({ tree: { ...tree, actions }, target: get("target") }, 80);
  const reach = useQuery(
    reachQuery(site.slug, { rule: asked.tree, id: row?.id ?? null, ...lens, target: asked.target }),
  );
  const reached = reach.data && !reach.isError ? reach.data : null;
  const wins = new Map(reached?.by_target.map((one) => [one.target, one]) ?? []);
  const targets = [
    ...new Set(actions.map((action) => (action.do === "use" ? "template" : (action.slot ?? "")))),
  ];
  return (
    <>
      <div className="editor">
        <div className="row">
          <input
            className="name"
            aria-label="Name of the rule"
            placeholder="Name the rule"
            value={tree.name}
            aria-invalid={Boolean(saving.problemAt("/name"))}
            onChange={(event) => edit({ ...tree, name: event.target.value })}
          />
          <span className="row mute">
            <Switch
              checked={tree.on ?? true}
              slotProps={{ input: { "aria-label": "Rule is on" } }}
              onChange={(event) => edit({ ...tree, on: event.target.checked })}
            />
            {(tree.on ?? true) ? "on" : "off"}
          </span>
          {onCopy && (
            <Button variant="text" onClick={onCopy}>
              Copy
            </Button>
          )}
          {row && onRemove && (
            <RemoveButton
              name={row.rule.name}
              reach={row.reach}
              onRemove={() => {
                saving.forget();
                onRemove();
              }}
            />
          )}
        </div>
        <FieldError problem={saving.problemAt("/name")} />
        <textarea
          className="note"
          rows={1}
          aria-label="Why the rule is there"
          placeholder="Why is this rule there?"
          value={tree.note ?? ""}
          onChange={(event) => edit({ ...tree, note: event.target.value })}
        />
        {saving.conflict && <Conflict saving={saving} />}
        <section className="sentence" aria-label="The condition as a sentence">
          {CONDITION_PARTS.map((part) => (
            <Sentence
              key={part.key}
              text={part.read(condition)}
              domain={part.domain}
              onChange={(text) => setPart(part, text)}
              {...SENTENCES[part.key]}
            />
          ))}
          <Line lead="at priority">
            <input
              className="token plainly"
              style={{ width: 76 }}
              type="number"
              min={-1000}
              max={1000}
              aria-label="Priority"
              value={tree.priority ?? 0}
              onChange={(event) => edit({ ...tree, priority: Math.trunc(Number(event.target.value)) || 0 })}
            />{" "}
            {reached && reached.specificity_on !== "none" && (
              <span className="mute" style={{ fontSize: 12.5 }}>
                specificity <span className="mono">{specificityText(reached.specificity)}</span> on{" "}
                {reached.specificity_on === "all" ? "every page" : "most pages"}
              </span>
            )}
          </Line>
          <FieldError problem={saving.problemAt("/priority")} />
        </section>
        <h2 className="mute" style={{ fontSize: 13, fontWeight: 400, margin: "12px 0 4px" }}>
          This rule does
        </h2>
        <Actions
          actions={tree.actions ?? []}
          wins={wins}
          reached={reached?.reached ?? 0}
          includes={(tree.condition?.include ?? "") !== ""}
          problemAt={(pointer) => saving.problemUnder(pointer)?.message}
          onChange={(changed) => edit({ ...tree, actions: changed })}
        />
        <h2 className="mute" style={{ fontSize: 13, fontWeight: 400, margin: "18px 0 4px" }}>
          The same condition as text
        </h2>
        <div
          style={{ display: "grid", gridTemplateColumns: "98px minmax(0, 1fr)", gap: 6, alignItems: "start" }}
        >
          {CONDITION_PARTS.map((part) => (
            <TextPart
              key={part.key}
              part={part}
              label={TEXT_LABELS[part.key]}
              condition={condition}
              onChange={setPart}
            />
          ))}
        </div>
        <ScheduleFields
          schedule={condition.schedule}
          problemAt={(pointer) => saving.problemAt(`/condition/schedule${pointer}`)}
          onChange={(schedule) => edit({ ...tree, condition: { ...condition, schedule } })}
        />
        <SaveBar saving={saving} isNew={row === null} />
      </div>
      {reach.isError && (
        <aside className="side" style={{ width: 376 }} aria-label="Reach">
          <h2>Reach</h2>
          <p className="mute">Waits until this is mended: {reach.error.message}</p>
        </aside>
      )}
      {!reached && !reach.isError && (
        <aside className="side" style={{ width: 376 }} aria-label="Reach" aria-busy="true">
          <h2>Reach</h2>
        </aside>
      )}
      {reached && (
        <ReachPanel
          reach={reached}
          current={!reach.isPlaceholderData}
          uses={actions.some((action) => action.do === "use")}
          onUse={(template) => edit({ ...tree, actions: [...(tree.actions ?? []), { do: "use", template }] })}
          targets={targets}
          target={get("target")}
          saved={row !== null}
          onTarget={(target) => set({ target })}
        />
      )}
    </>
  );
}

function TextPart({
  part,
  label,
  condition,
  onChange,
}: {
  part: Part;
  label: string;
  condition: Shapes["ConditionTree"];
  onChange: (part: Part, text: string) => void;
}) {
  const site = useSite();
  const text = part.read(condition);
  const read = useQuery(readQueryQuery(site.slug, useDebounced(text, 60), part.domain));
  return (
    <>
      <span className="mute" style={{ paddingTop: 7 }}>
        {label}
      </span>
      <QueryField
        multiline
        domain={part.domain}
        label={`${label}, as text`}
        value={text}
        problem={read.data?.problem}
        onChange={(changed) => onChange(part, changed)}
      />
    </>
  );
}

function RemoveButton({ name, reach, onRemove }: { name: string; reach: number; onRemove: () => void }) {
  const [asked, setAsked] = useState(false);
  if (!asked) {
    return (
      <Button variant="text" color="inherit" onClick={() => setAsked(true)}>
        Remove …
      </Button>
    );
  }
  return (
    <>
      <Button variant="contained" color="error" onClick={onRemove} title={`Removes ${name}`}>
        Remove, {reach} {reach === 1 ? "page" : "pages"}
      </Button>
      <Button variant="text" color="inherit" onClick={() => setAsked(false)}>
        Keep
      </Button>
    </>
  );
}

interface ConflictState {
  theirs: RuleTree;
  version: number;
}

/** The edited rule, what is wrong with it, and saving it. */
function useSaving(row: Shapes["RuleRow"] | null, id: string) {
  const site = useSite();
  const navigate = useNavigate();
  const linkTo = useLinkTo();
  const refresh = useRefresh();
  const tell = useMessage();
  const { draft, edit, drop, settle } = useDraft<RuleTree>("rule", id, row?.rule ?? null, sameRule);
  const [problem, setProblem] = useState<Problem | null>(null);
  const [busy, setBusy] = useState(false);
  const tree = draft?.tree ?? row?.rule ?? BLANK;
  const version = draft?.version ?? row?.version ?? 0;
  const changed = draft !== null;
  const conflict: ConflictState | null =
    problem?.status === 412
      ? { theirs: problem.body.theirs as RuleTree, version: problem.body.version as number }
      : null;

  const save = async (as: number = version) => {
    setBusy(true);
    setProblem(null);
    const path = { site: site.slug };
    try {
      const made = row
        ? await answer(
            api.PUT("/api/sites/{site}/rules/{number}", {
              params: { path: { ...path, number: row.id }, header: { "If-Match": `"${as}"` } },
              body: tree,
            }),
          )
        : await answer(api.POST("/api/sites/{site}/rules", { params: { path }, body: tree }));
      await refresh();
      settle(tree, made.version, String(made.id));
      if (!row) navigate(linkTo(`rules/${made.id}`), { replace: true });
      tell(`Saved ${made.rule.name}. It is in the draft, not live yet.`);
    } catch (error) {
      setProblem(error instanceof Problem ? error : new Problem(0, "", String(error), ""));
    } finally {
      setBusy(false);
    }
  };
  return {
    tree,
    changed,
    conflict,
    busy,
    problem,
    edit: (next: RuleTree) => edit(next, version),
    drop: () => {
      setProblem(null);
      drop();
      if (!row) navigate(linkTo("rules"));
    },
    forget: drop,
    takeTheirs: async () => {
      setProblem(null);
      drop();
      await refresh();
    },
    save,
    problemAt: (pointer: string) => problem?.at(pointer),
    problemUnder: (pointer: string) => problem?.problems.find((one) => one.pointer.startsWith(pointer)),
  };
}

type Saving = ReturnType<typeof useSaving>;

function SaveBar({ saving, isNew }: { saving: Saving; isNew: boolean }) {
  const { changed, busy, problem, tree } = saving;
  if (!changed && !isNew) return null;
  const elsewhere = problem && problem.status !== 412 ? problem.message : "";
  const halfMade = (tree.actions ?? []).filter(isHalfMade).length;
  const waits = halfMade ? `Waits: ${count(halfMade, "line")} of what it does not complete yet` : "";
  return (
    <div className="save-bar">
      <span className={elsewhere ? "field-error grow" : "mute grow"} role={elsewhere ? "alert" : undefined}>
        {elsewhere || waits || (isNew ? "New rule, not saved yet" : "Edited, not saved yet")}
      </span>
      <Button variant="text" color="inherit" onClick={saving.drop}>
        {isNew ? "Drop it" : "Back to saved"}
      </Button>
      <Button
        variant="contained"
        disabled={busy || halfMade > 0}
        title={waits || undefined}
        onClick={() => saving.save()}
      >
        Save rule
      </Button>
    </div>
  );
}

function Conflict({ saving }: { saving: Saving }) {
  const { conflict, tree } = saving;
  if (!conflict) return null;
  return (
    <section className="note-box" role="alert" aria-label="Changed meanwhile">
      <b>Somebody saved this rule while you edited it.</b> Nothing is lost: both versions stand here.
      <div className="versions">
        <div>
          Yours
          <pre>{JSON.stringify(tree, null, 2)}</pre>
          <Button variant="contained" onClick={() => saving.save(conflict.version)}>
            Save mine over it
          </Button>
        </div>
        <div>
          Theirs, saved
          <pre>{JSON.stringify(conflict.theirs, null, 2)}</pre>
          <Button variant="outlined" onClick={saving.takeTheirs}>
            Take theirs
          </Button>
        </div>
      </div>
    </section>
  );
}
