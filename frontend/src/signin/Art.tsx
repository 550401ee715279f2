/** Strips, as pages of a site have them, beside what is filled in. */
export function Art() {
  return (
    <div className="art" aria-hidden="true">
      <svg viewBox="0 0 360 420" width="360" style={{ maxWidth: "100%" }}>
        {[
          ["#E7B75B", 20, 0, 400],
          ["#7FB5AC", 90, 0, 130],
          ["#D07F5A", 90, 142, 258],
          ["#5D9CC4", 160, 0, 260],
          ["#93A86A", 160, 272, 128],
          ["#D39AA7", 230, 0, 60],
          ["#8C6BA8", 230, 72, 200],
          ["#F7F5F0", 230, 284, 116],
          ["#4C8C8A", 300, 0, 330],
          ["#B65C72", 300, 342, 58],
        ].map(([colour, x, y, height]) => (
          <rect key={`${x} ${y}`} x={x} y={y} width="10" height={height} rx="4" fill={String(colour)} />
        ))}
      </svg>
    </div>
  );
}
