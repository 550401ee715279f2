import type { PieceTree } from "./tree";

/** What the parts of a piece's editor are given. */
export interface PartProps {
  tree: PieceTree;
  problemAt: (pointer: string) => string | undefined;
  onChange: (tree: PieceTree) => void;
}
