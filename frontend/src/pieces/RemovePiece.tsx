import Button from "@mui/material/Button";
import Popover from "@mui/material/Popover";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { answer, api, type Shapes } from "../api/client";
import { type PieceRow, useLinkTo, useSite } from "../parts/site";
import { count } from "../parts/words";

interface Props {
  piece: PieceRow;
  /** Whether it is to be taken out of what names it first. */
  onRemove: (takeOut: boolean) => void;
}

/** Removing says first what names the piece, and offers to take it out of there in the same edit. */
export function RemovePiece({ piece, onRemove }: Props) {
  const site = useSite();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const asked = useQuery({
    queryKey: ["uses", site.slug, piece.slug, site.version],
    enabled: anchor !== null,
    queryFn: () =>
      answer(
        api.GET("/api/sites/{site}/pieces/{piece}/uses", {
          params: { path: { site: site.slug, piece: piece.slug } },
        }),
      ),
  });
  const uses = asked.data?.items;
  return (
    <>
      <Button
        variant="text"
        color="inherit"
        aria-haspopup="dialog"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        Remove …
      </Button>
      <Popover open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        <div className="popover" role="dialog" aria-label={`Remove ${piece.name}`}>
          {uses?.length === 0 && <p>Nothing names {piece.name}. Removing it changes no page.</p>}
          {uses && uses.length > 0 && <Uses piece={piece} uses={uses} />}
          {uses && (
            <Button
              variant="contained"
              color="error"
              style={{ marginTop: 10 }}
              onClick={() => onRemove(uses.length > 0)}
            >
              {uses.length ? `Take it out of ${them(uses)} and remove it` : "Remove it"}
            </Button>
          )}
          {uses && <p className="mute">It can be undone.</p>}
        </div>
      </Popover>
    </>
  );
}

const them = (uses: Shapes["UseInfo"][]) => (uses.length === 1 ? "this" : `these ${uses.length}`);

/** Where what names a piece is edited. */
const WAYS = { rule: "rules", sidebar: "pieces", piece: "pieces", guard: "checks/guards" };

function Uses({ piece, uses }: { piece: PieceRow; uses: Shapes["UseInfo"][] }) {
  const linkTo = useLinkTo();
  const ending = uses.filter((use) => use.ends).length;
  const way = (use: Shapes["UseInfo"]) =>
    use.kind === "site" ? "site" : `${WAYS[use.kind]}/${encodeURIComponent(use.key)}`;
  return (
    <>
      <p>
        {piece.name} is named by {count(uses.length, "other thing")}:
      </p>
      <ul className="plain-list">
        {uses.map((use) => (
          <li key={`${use.kind} ${use.key}`}>
            {use.kind === "site" ? "as default template of " : `${use.kind} `}
            <Link to={linkTo(way(use))}>{use.name}</Link>
            {use.ends && <span className="mute"> — does nothing else, so it goes too</span>}
          </li>
        ))}
      </ul>
      {ending > 0 && <p className="mute">{count(ending, "of these", "of these")} would go with it.</p>}
    </>
  );
}
