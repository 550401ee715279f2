import Button from "@mui/material/Button";
import { actionFor } from "../pages/newRule";
import type { PieceRow } from "../parts/site";
import { useNewRule } from "../rules/useNewRule";

/** A new rule that puts the piece where one says, with its reach shown live while that is said. */
export function PutOnPages({ piece }: { piece: PieceRow }) {
  const newRule = useNewRule();
  return (
    <Button
      variant="outlined"
      onClick={() =>
        newRule({
          name: `${piece.name} where it belongs`.slice(0, 80),
          condition: { include: "" },
          actions: [actionFor(piece)],
        })
      }
    >
      Put it on pages
    </Button>
  );
}
