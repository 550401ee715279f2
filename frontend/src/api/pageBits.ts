/** The numbers of the pages in a set, as the server tells it: a bit for each page, the highest first, in base64. */
export function pageNumbers(bits: string): number[] {
  const found: number[] = [];
  const bytes = atob(bits);
  for (let at = 0; at < bytes.length; at += 1) {
    const byte = bytes.charCodeAt(at);
    if (byte) for (let bit = 0; bit < 8; bit += 1) if (byte & (128 >> bit)) found.push(at * 8 + bit);
  }
  return found;
}
