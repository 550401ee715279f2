/** Shares of a row in twelfths: as many as there are, none less than one, twelve in all where that is possible. */
export function twelfths(shares: number[]): number[] {
  const stated = shares.map((share) => (share > 0 ? share : 1));
  const sum = stated.reduce((all, one) => all + one, 0);
  const found = stated.map((share) => Math.max(1, Math.round((12 * share) / sum)));
  let over = found.reduce((all, one) => all + one, 0) - 12;
  while (over !== 0 && shares.length <= 12) {
    const largest = found.indexOf(Math.max(...found));
    found[largest] = (found[largest] ?? 1) - Math.sign(over);
    over -= Math.sign(over);
  }
  return found;
}

/** Twelfths with so many of them moved over the line after one of them; none becomes less than one. */
export function shifted(shares: number[], line: number, by: number): number[] {
  const left = shares[line] ?? 1;
  const right = shares[line + 1] ?? 1;
  const moved = Math.max(1 - left, Math.min(right - 1, Math.round(by)));
  return shares.map((one, at) => (at === line ? one + moved : at === line + 1 ? one - moved : one));
}

/** How wide a page is taken to be where tracks are measured, in rem. */
const PAGE = 76;
const FR = /^(?:minmax\(\s*0(?:px)?\s*,\s*)?(\d+(?:\.\d+)?)fr\s*\)?$/;
const REM = /^(\d+(?:\.\d+)?)rem$/;

/** How wide the tracks of a grid are on a page, in rem; null where some of them cannot be told. */
export function trackWidths(tracks: string[]): number[] | null {
  const fixed = tracks.map((track) => Number(REM.exec(track)?.[1] ?? 0));
  const parts = tracks.map((track) => Number(FR.exec(track)?.[1] ?? 0));
  if (tracks.some((_, at) => !fixed[at] && !parts[at])) return null;
  const taken = fixed.reduce((all, one) => all + one, 0);
  const sum = parts.reduce((all, one) => all + one, 0);
  const left = Math.max(PAGE - taken, sum);
  return tracks.map((_, at) => fixed[at] || ((parts[at] ?? 0) * left) / (sum || 1));
}

/** Tracks with the line after one of them moved by so many rem: a fixed one changes, of two shares both do. */
export function tracksShifted(tracks: string[], line: number, by: number): string[] {
  const widths = trackWidths(tracks);
  if (!widths) return tracks;
  const isFixed = (at: number) => REM.test(tracks[at] ?? "");
  const left = widths[line] ?? 0;
  const right = widths[line + 1] ?? 0;
  const moved = Math.max(4 - left, Math.min(right - 4, by));
  const both = isFixed(line) === isFixed(line + 1);
  const sum = tracks.reduce((all, track) => all + Number(FR.exec(track)?.[1] ?? 0), 0);
  const shared = widths.reduce((all, width, at) => all + (isFixed(at) ? 0 : width), 0);
  return tracks.map((track, at) => {
    if (at !== line && at !== line + 1) return track;
    if (!both && !isFixed(at)) return track;
    const width = at === line ? left + moved : right - moved;
    if (isFixed(at)) return `${Math.round(width * 2) / 2}rem`;
    return `minmax(0, ${Math.round((100 * width * sum) / shared) / 100}fr)`;
  });
}
