import { answer, api } from "../api/client";
import { type PieceRow, useSite } from "../parts/site";
import { NamedForm } from "./NamedForm";

/** A copy of a piece under another name. */
export function CopyPiece({ piece }: { piece: PieceRow }) {
  const site = useSite();
  const make = (form: FormData) => {
    const params = { path: { site: site.slug, piece: piece.slug } };
    const body = { name: String(form.get("name")) };
    return answer(api.POST("/api/sites/{site}/pieces/{piece}/copy", { params, body }));
  };
  return (
    <NamedForm
      label="Copy"
      title={`Copy ${piece.name}`}
      nameLabel="Name of the copy"
      submit="Make the copy"
      make={make}
      said={(made) => `Made ${made.name}, a copy of ${piece.name}`}
    />
  );
}
