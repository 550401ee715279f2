import Button from "@mui/material/Button";
import Popover from "@mui/material/Popover";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { differenceQuery, versionsQuery } from "../api/pieceQueries";
import { useMessage } from "../parts/messages";
import { type PieceRow, useLinkTo, usePieces, useSite } from "../parts/site";
import { when } from "../parts/words";
import type { PieceTree } from "./tree";

interface Props {
  piece: PieceRow;
  onChoose: (tree: PieceTree) => void;
}

/** What the piece was after each edit; one that is chosen stands in the editor, to be looked at and saved. */
export function Versions({ piece, onChoose }: Props) {
  const site = useSite();
  const tell = useMessage();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const found = useQuery({ ...versionsQuery(site.slug, piece.slug), enabled: anchor !== null });
  return (
    <>
      <Button variant="text" aria-haspopup="dialog" onClick={(event) => setAnchor(event.currentTarget)}>
        Versions …
      </Button>
      <Popover open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        <div className="popover" role="dialog" aria-label={`Versions of ${piece.name}`}>
          <p className="mute">One that you choose stands in the editor. It counts once it is saved.</p>
          <ul className="versions">
            {found.data?.map((version, place) => (
              <li key={version.edit}>
                <span className="grow">
                  <span className="mute">
                    {when(version.made)} {version.by}
                  </span>
                  <br />
                  {version.words}
                </span>
                {place === 0 ? (
                  <span className="mute">as it is</span>
                ) : (
                  <Button
                    variant="text"
                    aria-label={`Bring back what edit ${version.edit} left`}
                    onClick={() => {
                      onChoose(version.piece);
                      setAnchor(null);
                      tell(`${piece.name} as edit ${version.edit} left it, not saved yet`);
                    }}
                  >
                    Bring back
                  </Button>
                )}
              </li>
            ))}
          </ul>
        </div>
      </Popover>
    </>
  );
}

/** What a copy began as, and how it differs from that by now. */
export function CopiedFrom({ piece }: { piece: PieceRow }) {
  const site = useSite();
  const linkTo = useLinkTo();
  const { bySlug } = usePieces();
  const original = bySlug.get(piece.origin);
  const found = useQuery({
    ...differenceQuery(site.slug, piece.slug, site.version),
    enabled: original !== undefined,
  });
  if (!original) return null;
  return (
    <details className="copied-from">
      <summary>
        A copy of <Link to={linkTo(`pieces/${original.slug}`)}>{original.name}</Link>
        {found.data && (found.data.words.length ? ", which differs" : ", alike so far")}
      </summary>
      <ul className="list">
        {found.data?.words.map((one) => (
          <li key={one}>{one}</li>
        ))}
      </ul>
    </details>
  );
}
