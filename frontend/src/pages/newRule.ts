import type { Shapes } from "../api/client";
import type { PieceRow } from "../parts/site";

/** The slot that a piece goes into when nobody says otherwise. */
const USUAL_SLOT: Record<string, string> = { sidebar: "aside-end", widget: "above-footer" };

/** What a rule does with a piece. A template is used; a widget is added, so that it pushes nothing out. */
export function actionFor(piece: PieceRow, slot?: string): Shapes["ActionTree"] {
  if (piece.kind === "template") return { do: "use", template: piece.slug };
  const place = slot ?? USUAL_SLOT[piece.kind] ?? piece.kind;
  return { do: piece.kind === "widget" ? "append" : "fill", slot: place, piece: piece.slug };
}

/** A rule that puts a piece on the pages of a condition. */
export function ruleFor(include: string, exclude: string, piece: PieceRow): Shapes["RuleTree"] {
  const where = include.length > 36 ? `${include.slice(0, 35)}…` : include;
  return {
    name: `${piece.name} on ${where}`.slice(0, 80),
    condition: exclude ? { include, exclude } : { include },
    actions: [actionFor(piece)],
  };
}

/** A rule for one page alone. `piece` null leaves the slot empty. */
export function pinFor(path: string, target: string, piece: PieceRow | null): Shapes["RuleTree"] {
  const shortened = path.length > 50 ? `…${path.slice(-49)}` : path;
  const value = /[\s,|"]/.test(path) ? `"${path}"` : path;
  const action = piece
    ? { ...actionFor(piece, target), ...(piece.kind === "template" ? {} : { do: "fill" as const }) }
    : { do: "empty" as const, slot: target };
  return { name: `Pin: ${shortened} ${target}`, condition: { include: `page:${value}` }, actions: [action] };
}
