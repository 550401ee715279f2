/** A text from elsewhere as the paths of pages: addresses one a line, whole or from the first slash on. */
export function pastedPaths(text: string): string[] | null {
  const lines = text
    .split(/[\s,]+/)
    .map((line) => line.trim())
    .filter(Boolean);
  const addresses = lines.filter((line) => /^https?:\/\//i.test(line) || line.startsWith("/"));
  // One path is typed as often as it is pasted; words are a search.
  if (addresses.length === 0 || addresses.length < lines.length) return null;
  if (lines.length === 1 && lines[0]?.startsWith("/")) return null;
  return [...new Set(addresses.flatMap((address) => pathOf(address) ?? []))];
}

/** The path of an address as pages have it; null for what is no address. */
function pathOf(address: string): string | null {
  try {
    const { pathname } = new URL(address, "https://site.invalid");
    const path = decodeURI(pathname).replace(/\/index\.html?$/, "/");
    return path.length > 1 ? path.replace(/\/+$/, "") || "/" : path;
  } catch {
    return null;
  }
}

/** Pasted paths, parted into those that the site has and those that it has not. */
export function knownAndUnknown(
  paths: string[],
  known: { has: (path: string) => boolean },
): [string[], string[]] {
  return [paths.filter((path) => known.has(path)), paths.filter((path) => !known.has(path))];
}
