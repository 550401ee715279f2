import Button from "@mui/material/Button";
import { answer, api, type Shapes } from "../api/client";
import { useMessage, useTellError } from "../parts/messages";
import { useSite } from "../parts/site";
import type { PieceTree } from "./tree";

interface Props {
  tree: PieceTree;
  onTurned: (content: Shapes["TurnedPiece"]["content"]) => void;
}

/** The items of a piece as markup, to go on writing it. */
export function IntoMarkup({ tree, onTurned }: Props) {
  const site = useSite();
  const tell = useMessage();
  const tellError = useTellError();
  const turn = async () => {
    try {
      const made = await answer(
        api.POST("/api/sites/{site}/markup", {
          params: { path: { site: site.slug } },
          body: { piece: tree },
        }),
      );
      onTurned(made.content);
      tell("Turned into markup, not saved yet.");
    } catch (error) {
      tellError(error);
    }
  };
  return (
    <Button variant="text" onClick={turn}>
      Into markup
    </Button>
  );
}
