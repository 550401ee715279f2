import Button from "@mui/material/Button";
import Popover from "@mui/material/Popover";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api } from "../api/client";
import { rulesQuery } from "../api/ruleQueries";
import { ChoosePiece } from "../parts/ChoosePiece";
import { Segments } from "../parts/controls";
import { useMessage, useTellError } from "../parts/messages";
import { QueryField } from "../parts/QueryField";
import { type PieceRow, useLens, usePiecePages, usePieces, useRefresh, useSite } from "../parts/site";
import { count } from "../parts/words";
import { useNewRule } from "../rules/useNewRule";
import { ruleInstead } from "./instead";

/** Another piece wherever this one is used, in one edit; on how many pages that is stands there before. */
export function ReplacePiece({ piece }: { piece: PieceRow }) {
  const site = useSite();
  const refresh = useRefresh();
  const tell = useMessage();
  const tellError = useTellError();
  const pages = usePiecePages()(piece.slug);
  const { bySlug } = usePieces();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [where, setWhere] = useState<"everywhere" | "some">("everywhere");
  const [include, setInclude] = useState("");
  const newRule = useNewRule();
  const rules = useQuery({ ...rulesQuery(site.slug, useLens()), enabled: anchor !== null }).data ?? [];
  const onSome = (slug: string) => {
    const other = bySlug.get(slug);
    const rule =
      other &&
      ruleInstead(
        rules.map((one) => one.rule),
        piece,
        other,
        include,
      );
    if (rule) return newRule(rule);
    tell(`No rule puts ${piece.name} anywhere; where it stands in another piece, change it there.`);
  };
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
          <Segments
            label="Where it is replaced"
            value={where}
            options={[
              ["everywhere", "Wherever it is used"],
              ["some", "On some pages"],
            ]}
            onChange={setWhere}
          />
          {where === "everywhere" ? (
            <p className="mute">
              {pages === undefined ? "" : `It shows on ${count(pages, "page")} through this lens. `}One edit,
              which can be undone.
            </p>
          ) : (
            <>
              <QueryField label="On which pages it is replaced" value={include} onChange={setInclude} />
              <p className="mute">A rule does it, which you see with its reach before it is saved.</p>
            </>
          )}
          <ChoosePiece
            kinds={[piece.kind]}
            label="What takes its place"
            onChoose={where === "everywhere" ? replace : onSome}
          />
        </div>
      </Popover>
    </>
  );
}
