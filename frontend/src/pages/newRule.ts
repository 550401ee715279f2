import type { Shapes } from "../api/client";
import type { PieceRow } from "../parts/site";
import { targetName, valueText } from "../parts/words";

/** The slot that a piece goes into when nobody says otherwise. */
const USUAL_SLOT: Record<string, string> = { sidebar: "aside-end", widget: "above-footer" };

/** What a rule does with a piece. A template is used; a widget is added, so that it pushes nothing out. */
export function actionFor(piece: PieceRow): Shapes["ActionTree"] {
  if (piece.kind === "template") return { do: "use", template: piece.slug };
  const slot = USUAL_SLOT[piece.kind] ?? piece.kind;
  return { do: piece.kind === "widget" ? "append" : "fill", slot, piece: piece.slug };
}

/** Which pages a rule is to be about, and how they are called in its name. */
export interface Meant {
  include: string;
  exclude: string;
  where: string;
}

/** A rule that does one thing on the pages of a condition, called by what that is and where. */
export function ruleFor(
  { include, exclude, where }: Meant,
  what: string,
  action: Shapes["ActionTree"],
): Shapes["RuleTree"] {
  return {
    name: `${what} on ${where}`.slice(0, 80),
    condition: exclude ? { include, exclude } : { include },
    actions: [action],
  };
}

/** What a rule without a piece does, in a few words for its name: "No footer", "Measure narrow". */
export function doingText(action: Shapes["ActionTree"]): string {
  if (action.do === "set") return `${targetName(action.setting ?? "")} ${valueText(action.value)}`;
  return `No ${targetName(action.slot ?? "").toLowerCase()}`;
}

/** What a pin does: this piece takes the place, or nothing does. */
export function pinAction(target: string, piece: PieceRow | null): Shapes["ActionTree"] {
  if (!piece) return { do: "empty", slot: target };
  return target === "template"
    ? { do: "use", template: piece.slug }
    : { do: "fill", slot: target, piece: piece.slug };
}

/** What a pin does, in words: "Slim header", "Left empty". */
export function pinnedText(action: Shapes["ActionTree"], nameOf: (slug: string) => string): string {
  const slug = action.piece ?? action.template;
  if (slug) return nameOf(slug);
  if (action.do === "set") return `${action.setting} ${action.value}`;
  return `${targetName(action.slot ?? "")} left empty`;
}
