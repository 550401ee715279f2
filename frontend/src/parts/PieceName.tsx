import { usePieces } from "./site";

/** A piece by its colour and its name; nothing while the pieces are not known yet. */
export function PieceName({ slug }: { slug: string }) {
  const { bySlug, known } = usePieces();
  const piece = bySlug.get(slug);
  return (
    <span className="row clip" style={{ display: "inline-flex", gap: 7 }}>
      <i className="swatch" style={{ background: piece?.colour ?? "var(--empty)" }} />
      <span className="clip">{piece?.name ?? (known ? slug : "\u00a0")}</span>
    </span>
  );
}
