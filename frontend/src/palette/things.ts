import Fuse from "fuse.js";
import type { Shapes } from "../api/client";
import type { Command } from "../parts/commands";
import type { PieceRow } from "../parts/site";

/** Something that the palette leads to. */
export interface Thing {
  /** Which sort it is, as it stands beside it. */
  sort: string;
  name: string;
  about: string;
  /** The view and its parameters. */
  to: string;
  params?: Record<string, string>;
  /** What is done instead of going somewhere. */
  run?: () => void;
}

const VIEWS: Thing[] = [
  ["Pages", "what every page gets", "pages"],
  ["Rules", "in the order in which they win", "rules"],
  ["Pieces", "headers, footers, sidebars, widgets, titles, templates", "pieces"],
  ["Preview", "a page as it will be served", "preview"],
  ["Checks", "what the checks find", "checks"],
  ["Publish", "what changes, and earlier revisions", "publish"],
  ["Site", "pages taken in, menus, settings", "site"],
  ["Starters", "pieces to start from", "starters"],
  ["All places", "every slot, and what it shows", "places"],
  ["Take in pieces", "from a layout file", "take-in"],
  ["Dress", "palette, fonts and measures", "site/dress"],
].map(([name = "", about = "", to = ""]) => ({ sort: "view", name, about, to }));

/** The views, the rules and the pieces. */
export function thingsOf(rules: Shapes["RuleRow"][], pieces: PieceRow[]): Thing[] {
  return [
    ...VIEWS,
    ...rules.map((row) => ({
      sort: "rule",
      name: row.rule.name,
      about: row.where ? `pages ${row.where}` : "",
      to: `rules/${row.id}`,
    })),
    ...pieces.map((piece) => ({
      sort: piece.kind,
      name: piece.name,
      about: piece.note ?? "",
      to: `pieces/${piece.slug}`,
    })),
  ];
}

/** What tells of them: findings and revisions. */
export function toldOf(findings: Shapes["FindingInfo"][], revisions: Shapes["RevisionRow"][]): Thing[] {
  return [
    ...findings.map((one) => ({ sort: "finding", name: one.what, about: one.mend, to: "checks" })),
    ...revisions.map((one) => ({
      sort: "revision",
      name: `Revision ${one.number}`,
      about: one.note,
      to: "publish",
    })),
  ];
}

/** What can be done in the views that stand now, as things; the key stands beside each. */
export const commandsAsThings = (commands: Command[]): Thing[] =>
  commands.map(({ name, keys, run }) => ({ sort: "do", name, about: keys, to: "", run }));

/** The pages that a search found, as things. */
export const pagesAsThings = (found: { text: string; label: string }[]): Thing[] =>
  found.map((page) => ({
    sort: "page",
    name: page.label,
    about: page.text,
    to: "pages",
    params: { path: page.text },
  }));

export const keyOf = (thing: Thing) => `${thing.sort} ${thing.to} ${thing.about} ${thing.name}`;

/** Finds what fits a text, also one with slips of the keyboard, the closest first. */
export function finderOf(things: Thing[]): (text: string, most: number) => Thing[] {
  const fuse = new Fuse(things, {
    keys: [
      { name: "name", weight: 3 },
      { name: "sort", weight: 1 },
      { name: "about", weight: 1 },
    ],
    threshold: 0.35,
    ignoreLocation: true,
  });
  return (text, most) => fuse.search(text, { limit: most }).map((found) => found.item);
}
