import Button from "@mui/material/Button";
import Popover from "@mui/material/Popover";
import { useState } from "react";
import { answer, api } from "../api/client";
import { ChoosePiece } from "../parts/ChoosePiece";
import { useMessage, useTellError } from "../parts/messages";
import { type PieceRow, usePiecePages, usePieces, useRefresh, useSite } from "../parts/site";
import { count } from "../parts/words";

/** Another piece wherever this one is used, in one edit; on how many pages that is stands there before. */
export function ReplacePiece({ piece }: { piece: PieceRow }) {
  const site = useSite();
  const refresh = useRefresh();
  const tell = useMessage();
  const tellError = useTellError();
  const pages = usePiecePages()(piece.slug);
  const { bySlug } = usePieces();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const replace = async (slug: string) => {
    setAnchor(null);
    try {
      const params = { path: { site: site.slug, piece: piece.slug } };
      const made = await answer(
        api.POST("/api/sites/{site}/pieces/{piece}/replace", { params, body: { by: slug } }),
      );
      await refresh();
      tell(`Put ${bySlug.get(slug)?.name} in the place of ${piece.name}, in ${count(made.uses, "thing")}`);
    } catch (error) {
      tellError(error);
    }
  };
  return (
    <>
      <Button
        variant="text"
        disabled={piece.uses === 0}
        title={piece.uses === 0 ? "Nothing uses it" : undefined}
        aria-haspopup="dialog"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        Replace …
      </Button>
      <Popover open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        <div className="popover" role="dialog" aria-label={`Replace ${piece.name}`}>
          <p className="mute">
            Wherever {piece.name} is used
            {pages === undefined ? "" : `, which shows it on ${count(pages, "page")}`}. It can be undone.
          </p>
          <ChoosePiece kinds={[piece.kind]} label="What takes its place" onChoose={replace} />
        </div>
      </Popover>
    </>
  );
}
