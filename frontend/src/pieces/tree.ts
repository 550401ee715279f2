import type { Shapes } from "../api/client";

export type PieceTree = Shapes["PieceTree"];

/** A piece's layout-file form, without what the list adds to it. */
export function pieceTree(piece: PieceTree): PieceTree {
  const { name, kind, note, content, slots, entries } = piece;
  return { name, kind, note, content, slots, entries };
}

export function styleOf(piece: PieceTree): Record<string, string> {
  return (piece.content?.style as Record<string, string> | undefined) ?? {};
}

export function withContent(piece: PieceTree, changes: Record<string, unknown>): PieceTree {
  return { ...piece, content: { ...piece.content, ...changes } };
}

/** The list with the element at one place moved to another. */
export function moved<T>(list: T[], from: number, to: number): T[] {
  const next = [...list];
  const [taken] = next.splice(from, 1);
  if (taken === undefined || to < 0 || to > next.length) return list;
  next.splice(to, 0, taken);
  return next;
}
