/** The line that a problem of code is in: as it says, else the last; never one that there is not. */
export function lineOf(problem: string, lines: number): number {
  const stated = Number(/^line (\d+):/.exec(problem)?.[1] ?? lines);
  return Math.min(Math.max(1, stated), lines);
}
