/** The signs of the rail: plain figures of what each view shows. */

const FIGURES: Record<string, string> = {
  pages: "M3 2v12M8 2v5M8 9v5M13 2v3M13 7v7M18 2v8M18 12v2",
  rules: "M2 3h12M2 8h18M2 13h8M17 2l3 2-3 2",
  pieces: "M2 2h18v4H2zM2 8h11v6H2zM15 8h5v6h-5z",
  preview: "M2 3h18v11H2zM2 6h18M7 6v8",
  checks: "M2 3h10M2 8h7M2 13h10M14 9l3 3 5-8",
  publish: "M11 11V2M7 5l4-3 4 3M3 10v4h16v-4",
  site: "M2 4h18M2 8h12M2 12h18M18 6v4",
};

export const Figure = ({ name }: { name: string }) => <Stroked d={FIGURES[name] ?? ""} width={22} />;

/** A figure of lines, 16 high. */
function Stroked({ d, width = 16 }: { d: string; width?: number }) {
  return (
    <svg
      width={width}
      height="16"
      viewBox={`0 0 ${width} 16`}
      fill="none"
      stroke="currentColor"
      strokeWidth="1.9"
      aria-hidden="true"
    >
      <path d={d} />
    </svg>
  );
}

export function Lock() {
  return (
    <svg width="10" height="12" viewBox="0 0 10 12" fill="currentColor" aria-hidden="true">
      <path d="M1 5h8v7H1zM2.5 5V3a2.5 2.5 0 0 1 5 0v2h-1.3V3a1.2 1.2 0 0 0-2.4 0v2z" />
    </svg>
  );
}

/** Where a row can be taken hold of. */
export function Grip() {
  return (
    <svg width="8" height="14" viewBox="0 0 8 14" fill="currentColor" aria-hidden="true">
      <path d="M1 1h2v2H1zM5 1h2v2H5zM1 6h2v2H1zM5 6h2v2H5zM1 11h2v2H1zM5 11h2v2H5z" />
    </svg>
  );
}

/** A step back: an arrow that turns to where it came from. */
export const UndoSign = () => <Stroked d="M6 3 2.5 6.5 6 10M3 6.5h6.5a3.5 3.5 0 0 1 0 7H6" />;

/** A step forth again: the same the other way round. */
export const RedoSign = () => <Stroked d="m10 3 3.5 3.5L10 10M13 6.5H6.5a3.5 3.5 0 0 0 0 7H10" />;
