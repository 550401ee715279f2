import Button from "@mui/material/Button";
import Switch from "@mui/material/Switch";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Shapes } from "../api/client";
import { judgedQuery, reachQuery } from "../api/ruleQueries";
import { FindingsAbout } from "../checks/FindingsAbout";
import { ConditionSentence, type PointedAt } from "../conditions/ConditionSentence";
import { CONDITION_PARTS, type ConditionPart, withTexts } from "../conditions/condition";
import { FieldError } from "../conditions/FieldError";
import { InForce } from "../conditions/InForce";
import { Line } from "../conditions/Sentence";
import { TextPart } from "../conditions/TextPart";
import { AlsoHere } from "../parts/AlsoHere";
import { ConflictBox } from "../parts/ConflictBox";
import { PlainField, PriorityField } from "../parts/controls";
import { useMessage } from "../parts/messages";
import { useEditor } from "../parts/newDraft";
import { SaveBar } from "../parts/SaveBar";
import { useAddress, useLens, useLinkTo, useSite } from "../parts/site";
import { restOn, useDebounced } from "../parts/useDebounced";
import { useDraft } from "../parts/useDraft";
import { count, specificityText, targetOf } from "../parts/words";
import { Weighed } from "../publish/Weighed";
import { Actions } from "./Actions";
import { PriorityWords } from "./PriorityWords";
import { ReachPanel } from "./ReachPanel";
import { RemoveRule } from "./RemoveRule";
import { isHalfMade, type RuleTree, sameRule, sendRule } from "./ruleTree";
import { SeenOn } from "./SeenOn";

interface Props {
  /** The saved rule; null for a new one. */
  row: Shapes["RuleRow"] | null;
  /** The rule's id, or that of the new rule's draft. */
  id: string;
  onCopy: () => void;
  onRemove: () => void;
}

const TEXT_LABELS: Record<ConditionPart["key"], string> = {
  include: "Include",
  exclude: "Exclude",
  visitorsInclude: "Visitors",
  visitorsExclude: "Not visitors",
};

/** How long what is typed rests before its reach is asked for, and then before it is judged, in milliseconds. */
const REST = 30;
const JUDGED_AFTER = 250;
const BLANK: RuleTree = { name: "", condition: { include: "" }, actions: [] };

/** A rule as a sentence of tokens and as text, with its reach beside it. */
export function RuleEditor({ row, id, onCopy, onRemove }: Props) {
  const site = useSite();
  const lens = useLens();
  const { get, set } = useAddress();
  const navigate = useNavigate();
  const { onward } = useEditor(id);
  const linkTo = useLinkTo();
  const tell = useMessage();
  const editing = useDraft<RuleTree>({
    kind: "rule",
    id,
    saved: row && { tree: row.rule, version: row.version },
    blank: BLANK,
    same: sameRule,
    send: (tree, version) => sendRule(site.slug, row?.id ?? null, tree, version),
  });
  const { tree, edit } = editing;
  const [pointed, setPointed] = useState<PointedAt | null>(null);
  const saved = (number: string) => {
    if (!row) navigate(linkTo(`rules/${number}`), onward);
    tell(`Saved ${tree.name}. It is in the draft, not live yet.`);
  };
  const save = async () => {
    const number = await editing.save();
    if (number) saved(number);
    return number !== null;
  };
  const drop = () => {
    editing.drop();
    if (!row) navigate(linkTo("rules"));
  };
  const condition = tree.condition ?? {};
  // A token's text comes from the server, so that other edits may have come before it.
  const setParts = (texts: [ConditionPart, string][]) =>
    edit((newest) => ({ ...newest, condition: withTexts(newest.condition, texts) }));
  // What mends a rule changes where it applies, or how strong it is; the lines of what it does stay.
  const mend = ({ condition = {}, priority = 0 }: RuleTree) =>
    edit((newest) => ({ ...newest, condition, priority }));
  const actions = (tree.actions ?? []).filter((action) => !isHalfMade(action));
  const halfMade = (tree.actions ?? []).length - actions.length;
  const waits = halfMade ? `Waits: ${count(halfMade, "line")} of what it does not complete yet` : "";
  const asked = useDebounced({ tree: { ...tree, actions }, target: get("target"), path: get("test") }, REST);
  const edited = { rule: asked.tree, id: row?.id ?? null, ...lens };
  const reach = useQuery(reachQuery(site.slug, { ...edited, target: asked.target, path: asked.path }));
  const judged =
    useQuery(judgedQuery(site.slug, useDebounced(edited, restOn(site.pages, JUDGED_AFTER)))).data ?? [];
  const reached = reach.data && !reach.isError ? reach.data : null;
  const wins = new Map(reached?.by_target.map((one) => [one.target, one]) ?? []);
  const targets = [...new Set(actions.map(targetOf))];
  const isSaved = row !== null && !editing.changed;
  const seenOn = reached && <SeenOn reach={reached} changed={!isSaved} waits={waits} onSave={save} />;
  return (
    <>
      <div className="editor">
        <Link className="only-narrow" to={linkTo("rules")}>
          All rules
        </Link>
        {row && <AlsoHere thing={`rule/${row.id}`} />}
        <div className="row">
          <PlainField
            className="name"
            label="Name of the rule"
            autoFocus={row === null}
            placeholder="Name the rule"
            value={tree.name}
            error={Boolean(editing.problemAt("/name"))}
            onChange={(name) => edit({ ...tree, name })}
          />
          {row && (
            <Button variant="text" onClick={onCopy}>
              Copy
            </Button>
          )}
          {row && (
            <RemoveRule
              name={row.rule.name}
              reach={row.reach}
              onRemove={() => {
                editing.drop();
                onRemove();
              }}
            />
          )}
        </div>
        <FieldError problem={editing.problemAt("/name")} />
        <PlainField
          multiline
          className="note"
          label="Why the rule is there"
          placeholder="Why is this rule there?"
          value={tree.note ?? ""}
          onChange={(note) => edit({ ...tree, note })}
        />
        <ConflictBox editing={editing} what="rule" onSaved={() => saved(id)} />
        <section className="sentence" aria-label="The condition as a sentence">
          <ConditionSentence condition={condition} onChange={setParts} onPoint={setPointed} />
          <InForce
            schedule={condition.schedule}
            problemAt={(pointer) => editing.problemAt(`/condition/schedule${pointer}`)}
            onChange={(schedule) =>
              edit((newest) => ({ ...newest, condition: { ...newest.condition, schedule } }))
            }
          />
          <Line lead="at priority">
            <PriorityField
              label="Priority"
              value={tree.priority ?? 0}
              onChange={(priority) => edit({ ...tree, priority })}
            />{" "}
            <PriorityWords priority={tree.priority ?? 0} id={row?.id ?? null} />{" "}
            {/* It keeps its room while it is worked out, so that nothing below moves under the pointer. */}
            <div className="mute specificity">
              {reached && reached.specificity_on !== "none" && (
                <>
                  specificity <span className="mono">{specificityText(reached.specificity)}</span> on{" "}
                  {reached.specificity_on === "all" ? "every page" : "most pages"}
                </>
              )}
            </div>
          </Line>
          <FieldError problem={editing.problemAt("/priority")} />
        </section>
        <h2 className="mute" style={{ fontSize: 13, fontWeight: 400, margin: "12px 0 4px" }}>
          This rule does
        </h2>
        <Actions
          actions={tree.actions ?? []}
          wins={wins}
          reached={reached?.reached ?? 0}
          path={(reached?.gets ?? reached?.pages.find((page) => page.standing === "reached"))?.path ?? "/"}
          includes={(tree.condition?.include ?? "") !== ""}
          problemAt={(pointer) => editing.problemUnder(pointer)?.message}
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
              onChange={(part, text) => setParts([[part, text]])}
            />
          ))}
        </div>
        <div className="row mute rule-switch">
          <Switch
            checked={tree.on ?? true}
            slotProps={{ input: { "aria-label": "Rule is on" } }}
            onChange={(event) => edit({ ...tree, on: event.target.checked })}
          />
          {(tree.on ?? true) ? "The rule is on" : "The rule is off: it does nothing anywhere"}
        </div>
        {isSaved && seenOn}
        <SaveBar editing={editing} what="rule" isNew={row === null} waits={waits} onSave={save} onDrop={drop}>
          {!isSaved && seenOn}
          {row && <Weighed editing={editing} to={`rules/${row.id}`} body={tree} />}
        </SaveBar>
      </div>
      {reach.isError && (
        <aside className="side reach" aria-label="Reach">
          <h2>Reach</h2>
          <p className="mute">Waits until this is mended: {reach.error.message}</p>
        </aside>
      )}
      {!reached && !reach.isError && (
        <aside className="side reach" aria-label="Reach" aria-busy="true">
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
          pointed={pointed}
          tested={get("test")}
          onTest={(test) => set({ test })}
          saved={row !== null}
          onTarget={(target) => set({ target })}
        >
          <FindingsAbout findings={judged}>
            {({ mending }) =>
              mending && (
                <Button size="small" onClick={() => mend(mending.tree)}>
                  {mending.words}
                </Button>
              )
            }
          </FindingsAbout>
        </ReachPanel>
      )}
    </>
  );
}
