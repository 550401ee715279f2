import { usePieces } from "./site";

/** A piece by its colour and its name. */
export function PieceName({ slug }: { slug: string }) {
  const piece = usePieces().bySlug.get(slug);
  return (
    <span className="row clip" style={{ display: "inline-flex", gap: 7 }}>
      <i className="swatch" style={{ background: piece?.colour ?? "var(--empty)" }} />
      <span className="clip">{piece?.name ?? slug}</span>
    </span>
  );
}
