import type { Shapes } from "../api/client";

/** How things are called on screen. One thing, one word. */

const TARGETS: Record<string, string> = { template: "Template" };

/** The setting that a target names, empty for a slot or the template. */
export function settingOf(target: string): string {
  return target.startsWith("setting:") ? target.slice("setting:".length) : "";
}

/** A setting's value in words. */
export function valueText(value: unknown): string {
  return typeof value === "boolean" ? (value ? "on" : "off") : String(value) || "nothing";
}

/** `above-footer` as people read it: "Above footer". */
export function targetName(target: string): string {
  const setting = settingOf(target);
  if (setting) return targetName(setting);
  return TARGETS[target] ?? capital(target).replaceAll("-", " ");
}

/** A text with its first letter large, as a sentence begins. */
export const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

const NUMBER = new Intl.NumberFormat("en");

/** 12345 as people read it: "12,345". */
export const figure = (number: number) => NUMBER.format(number);

/** "1 page", "7 pages". */
export function count(number: number, one: string, many = `${one}s`): string {
  return `${figure(number)} ${number === 1 ? one : many}`;
}

/** What an action acts on. */
export function targetOf(action: Shapes["ActionTree"]): string {
  if (action.do === "set") return `setting:${action.setting}`;
  return action.do === "use" ? "template" : (action.slot ?? "");
}

/** The kind of piece that fills a target. */
export function kindFor(target: string): string {
  if (target === "template" || target === "header" || target === "footer" || target === "title")
    return target;
  return target.startsWith("aside-") ? "sidebar" : "widget";
}

const KINDS: Record<string, string> = {
  header: "Headers",
  footer: "Footers",
  title: "Titles",
  sidebar: "Sidebars",
  widget: "Widgets",
  template: "Templates",
};

export const KIND_ORDER = Object.keys(KINDS);
export const kindsName = (kind: string) => KINDS[kind] ?? kind;

export const DOES: Record<string, string> = {
  fill: "fill with",
  empty: "leave empty",
  prepend: "add before",
  append: "add after",
  use: "use",
};

const STATES: Record<string, string> = {
  won: "won",
  added: "added",
  outranked: "outranked",
  cleared: "dropped",
  duplicate: "there already",
  excluded: "excluded",
  "not-included": "not included",
  visitor: "not this visitor",
  time: "not now",
  off: "off",
  locked: "locked",
};
export const stateName = (state: string) => STATES[state] ?? state;

export const specificityText = (counts: number[]) => counts.join(" · ");

const DAY = new Intl.DateTimeFormat("en-GB", { weekday: "short", day: "numeric", month: "short" });
const CLOCK = new Intl.DateTimeFormat("en-GB", { hour: "2-digit", minute: "2-digit" });

/** A day, with its year where that is not this one: "Fri 4 Dec 2054". */
export function day(iso: string): string {
  const at = new Date(iso);
  const year = at.getFullYear();
  return `${DAY.format(at).replace(",", "")}${year === new Date().getFullYear() ? "" : ` ${year}`}`;
}

/** A moment: "Fri 4 Dec 2054, 18:00". */
export const when = (iso: string) => `${day(iso)}, ${CLOCK.format(new Date(iso))}`;

/** Whether what a page in its own HTML has in a slot stays there: nothing is put in its place. */
export const isOpen = (outcome: Shapes["OutcomeInfo"]) =>
  outcome.state === "unset" || outcome.own_at !== null;

/** Of such a page, that what is added to a slot stands beside what is there. */
export const addedWords = (outcome: Shapes["OutcomeInfo"]) =>
  outcome.own_at === null ? "" : ", added to whatever stands there";

/** An outcome in words: the pieces' names, or why there are none. */
export function outcomeText(
  outcome: Shapes["OutcomeInfo"],
  nameOf: (slug: string) => string | undefined,
): string {
  if (outcome.value !== null && outcome.value !== undefined) return valueText(outcome.value);
  if (outcome.state === "filled") return outcome.pieces.map((slug) => nameOf(slug) ?? slug).join(" + ");
  return { empty: "left empty", unset: "nothing set", locked: "locked" }[outcome.state];
}
