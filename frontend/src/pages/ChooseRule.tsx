import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Shapes } from "../api/client";
import { reachingQuery, rulesQuery } from "../api/ruleQueries";
import { SearchList } from "../parts/SearchList";
import { useLens, useSite } from "../parts/site";
import { count, targetName } from "../parts/words";

export type Row = Shapes["RuleRow"];

interface Props {
  label: string;
  paths: string[];
  /** Whether the pages are to come in; else they are to be left out. */
  adding: boolean;
  onChoose: (row: Row, pages: number) => void;
}

/** The rules to choose from, each with how many of the pages would come into it, or go out of it. */
export function ChooseRule({ label, paths, adding, onChoose }: Props) {
  const site = useSite();
  const rules = useQuery(rulesQuery(site.slug, useLens()));
  const reaching = useQuery(reachingQuery(site.slug, paths));
  const [text, setText] = useState("");
  const reached = new Map(reaching.data?.map((one) => [one.id, one.pages]));
  const moved = (row: Row) => {
    const inside = reached.get(row.id) ?? 0;
    return adding ? paths.length - inside : inside;
  };
  const fitting = reaching.data
    ? (rules.data ?? []).filter(
        (row) =>
          row.pin === null &&
          moved(row) > 0 &&
          `${row.rule.name} ${row.where}`.toLowerCase().includes(text.toLowerCase()),
      )
    : [];
  return (
    <SearchList
      label={label}
      placeholder="Type part of a rule's name"
      options={fitting}
      keyOf={(row) => String(row.id)}
      nameOf={(row) => row.rule.name}
      text={text}
      onText={setText}
      onChoose={(row) => onChoose(row, moved(row))}
      nothing={
        reaching.data && rules.data
          ? text
            ? "No such rule is called so."
            : adding
              ? "Every rule reaches these pages already."
              : "No rule reaches these pages."
          : ""
      }
    >
      {(row) => (
        <>
          <span className="grow clip">
            {row.rule.name} <span className="mute">{targetsOf(row)}</span>
          </span>
          <span className="count">
            {adding ? "+" : "−"}
            {count(moved(row), "page")}
          </span>
        </>
      )}
    </SearchList>
  );
}

const targetsOf = (row: Row) => row.by_target.map((one) => targetName(one.target).toLowerCase()).join(", ");
