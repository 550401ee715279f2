import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { useNavigate, useParams } from "react-router";
import { answer, api, type Shapes } from "../api/client";
import { findingsQuery } from "../api/queries";
import { rulesQuery } from "../api/ruleQueries";
import { useDraftList } from "../parts/drafts";
import { isNew, useEditor } from "../parts/newDraft";
import { useLens, useLinkTo, useSite } from "../parts/site";
import { useAct } from "../parts/useAct";
import { useSteady, useSteadyCall } from "../parts/useSteady";
import { priorityOf, type Row } from "./bands";
import { RuleEditor } from "./RuleEditor";
import { RuleList, RuleListFrame } from "./RuleList";
import { useChangeRule } from "./useChangeRule";
import "./rules.css";

/** The rules in cascade order, and the editor of one. */
export function RulesView() {
  const site = useSite();
  const lens = useLens();
  const rules = useQuery(rulesQuery(site.slug, lens));
  const findings = useQuery(findingsQuery(site.slug)).data;
  const ofRules = useMemo(() => {
    const found = new Map<number, Shapes["FindingInfo"][]>();
    for (const one of findings ?? []) {
      if (one.rule !== null && one.aside === null) found.set(one.rule, [...(found.get(one.rule) ?? []), one]);
    }
    return found;
  }, [findings]);
  const chosen = useParams().rule;
  const { editor } = useEditor(chosen);
  const navigate = useNavigate();
  const linkTo = useLinkTo();
  const act = useAct();
  const drafts = useSteady(useDraftList().filter((draft) => draft.kind === "rule"));
  const inSite = { path: { site: site.slug } };
  const versionOf = (id: number) => ({
    "If-Match": `"${rules.data?.find((rule) => rule.id === id)?.version ?? 0}"`,
  });

  const place = useSteadyCall((row: Row, over: Row, number: number) =>
    act(async () => {
      const params = { path: { site: site.slug, number: row.id }, header: versionOf(row.id) };
      const body = { position: over.position, priority: priorityOf(over) };
      const moved = await answer(api.POST("/api/sites/{site}/rules/{number}/position", { params, body }));
      const priority = priorityOf(row) === body.priority ? "" : `, with priority ${body.priority}`;
      return `${moved.rule.name} is now number ${number}${priority}`;
    }),
  );
  const change = useChangeRule();
  const switchOver = useSteadyCall(({ id, rule }: Row) => {
    const on = !(rule.on ?? true);
    return change(id, { ...rule, on }, null, `Switched ${on ? "on" : "off"} ${rule.name}`);
  });
  const copy = useSteadyCall(({ id }: Row) =>
    act(async () => {
      const params = { path: { ...inSite.path, number: id } };
      const made = await answer(api.POST("/api/sites/{site}/rules/{number}/copy", { params }));
      navigate(linkTo(`rules/${made.id}`));
      return `Made ${made.rule.name}, switched off`;
    }),
  );
  const remove = (id: number, name: string) =>
    act(async () => {
      await api.DELETE("/api/sites/{site}/rules/{number}", {
        params: { path: { ...inSite.path, number: id }, header: versionOf(id) },
      });
      navigate(linkTo("rules"));
      return `Removed ${name}`;
    });

  if (rules.isError) return <p className="note-box bad">{rules.error.message}</p>;
  if (!rules.data) return <RuleListFrame />;
  const row = rules.data.find((rule) => String(rule.id) === chosen);
  return (
    <>
      <RuleList
        rules={rules.data}
        drafts={drafts}
        chosen={chosen}
        pages={site.pages}
        findings={ofRules}
        onPlace={place}
        onSwitch={switchOver}
        onCopy={copy}
      />
      {(row || isNew(chosen)) && (
        <RuleEditor
          key={editor}
          id={chosen ?? ""}
          row={row ?? null}
          onCopy={() => row && copy(row)}
          onRemove={() => row && remove(row.id, row.rule.name)}
        />
      )}
      {!row && !isNew(chosen) && (
        <div className="column">
          {chosen ? (
            <p>This rule is not there any more.</p>
          ) : rules.data.length ? (
            <p className="mute">Choose a rule to see what it does, where, and where something beats it.</p>
          ) : (
            <p>No rules yet. A rule says which pages get which pieces. Make the first one with “New rule”.</p>
          )}
        </div>
      )}
    </>
  );
}
