import { useSortable } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import { memo } from "react";
import { Link } from "react-router";
import type { Shapes } from "../api/client";
import { Grip } from "../parts/icons";
import { useLinkTo } from "../parts/site";
import { count, figure, targetName } from "../parts/words";
import type { Row } from "./bands";

interface ItemProps {
  row: Row;
  /** Its place among all rules as they win, from 1. */
  number: number;
  chosen: boolean;
  unsaved: boolean;
  pages: number;
  findings: Shapes["FindingInfo"][];
  /** The groups that it was put into. */
  groups: string[];
  /** Whether it is one of several that something is done to; null while rules are not picked. */
  picked: boolean | null;
  /** That of its controls: one line of the list is a stop for Tab. */
  tabIndex: number;
  onPick: (row: Row) => void;
  onSwitch: (row: Row) => void;
  onCopy: (row: Row) => void;
}

/** A rule of the list: what it acts on, where, for whom, how far it reaches and wins. */
export const RuleItem = memo(function RuleItem({
  row,
  number,
  chosen,
  unsaved,
  pages,
  findings,
  groups,
  picked,
  tabIndex,
  onPick,
  onSwitch,
  onCopy,
}: ItemProps) {
  const linkTo = useLinkTo();
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id: row.id });
  const on = row.rule.on ?? true;
  const won = Math.min(row.wins, row.reach);
  const share = (part: number) => `${pages ? (100 * part) / pages : 0}%`;
  const hindered = hindrance(row);
  return (
    <li
      ref={setNodeRef}
      data-line={row.id}
      className={["rule-item", chosen && "on", !on && "off"].filter(Boolean).join(" ")}
      style={{ transform: CSS.Translate.toString(transform), transition }}
    >
      {picked === null ? (
        <button
          type="button"
          className="handle"
          {...attributes}
          {...listeners}
          tabIndex={tabIndex}
          aria-label={`Move ${row.rule.name}, number ${number}`}
        >
          <Grip />
        </button>
      ) : (
        <Checkbox
          size="small"
          sx={{ padding: 0, alignSelf: "start" }}
          checked={picked}
          slotProps={{ input: { "aria-label": `Pick ${row.rule.name}`, tabIndex } }}
          onChange={() => onPick(row)}
        />
      )}
      <Link to={linkTo(`rules/${row.id}`)} className="grow plainly" aria-current={chosen} tabIndex={tabIndex}>
        <span className="row">
          <b className="clip grow">{row.rule.name}</b>
          {groups.map((name) => (
            <span key={name} className="tag" title={`In your group ${name}`}>
              {name}
            </span>
          ))}
          {findings.length > 0 && (
            <span
              className={`mark ${findings[0]?.severity}`}
              title={findings.map((one) => one.what).join("\n")}
            >
              {count(findings.length, "finding")}
            </span>
          )}
        </span>
        <span className="sub clip">
          {unsaved && <b className="unsaved">edited, not saved · </b>}
          {hindered && <strong>{hindered} · </strong>}
          {row.by_target.map((one) => targetName(one.target).toLowerCase()).join(", ")}
        </span>
        <span className="sub clip" title={row.where}>
          {whereText(row.where)}
        </span>
        {row.who !== "everyone" && (
          <span className="sub who clip" title={row.who}>
            for {row.who}
          </span>
        )}
        {row.rule.note && (
          <span className="sub noted clip" title={row.rule.note}>
            {row.rule.note}
          </span>
        )}
        <span
          className="row"
          role="img"
          aria-label={`Reaches ${count(row.reach, "page")}, wins on ${row.wins}`}
          title={`Reaches ${count(row.reach, "page")}, wins on ${figure(row.wins)}`}
        >
          <span className="meter grow">
            <i style={{ width: share(won) }} />
            <i style={{ width: share(row.reach - won) }} />
          </span>
          <span className="sub">
            {won < row.reach && `${figure(won)} of `}
            {figure(row.reach)}
          </span>
        </span>
      </Link>
      {picked === null && (
        <span className="rule-acts">
          <Button
            size="small"
            variant="text"
            aria-label={`Switch ${on ? "off" : "on"} ${row.rule.name}`}
            tabIndex={tabIndex}
            disabled={unsaved}
            title={unsaved ? "Waits: an edit of it is not saved" : "At once, in the draft"}
            onClick={() => onSwitch(row)}
          >
            Switch {on ? "off" : "on"}
          </Button>
          <Button
            size="small"
            variant="text"
            aria-label={`Copy ${row.rule.name}`}
            tabIndex={tabIndex}
            onClick={() => onCopy(row)}
          >
            Copy
          </Button>
        </span>
      )}
    </li>
  );
});

/** Where a rule applies, as a line of its own: "everywhere", "pages of type article". */
function whereText(where: string): string {
  if (!where) return "on no page";
  return where.startsWith("everywhere") ? where : `pages ${where}`;
}

/** Why a rule does nothing now; empty for one that does something. */
function hindrance(row: Row): string {
  if (!(row.rule.on ?? true)) return "off";
  if (!row.lets_in) return "not through this lens";
  if (row.reach === 0) return "matches no page";
  if (row.wins === 0 && row.unplaced === 1) return "no place on the page it wins";
  if (row.wins === 0 && row.unplaced) return `no place on any of ${count(row.unplaced, "page")}`;
  return row.wins === 0 ? "never wins through this lens" : "";
}
