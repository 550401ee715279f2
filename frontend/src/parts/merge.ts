/** What two people made of one thing, part by part: where they differ, who changed what, and putting it together. */

export type Side = "mine" | "theirs";
type Key = string | number;

/** A part in which two versions differ; undefined is a part that is not there. */
export interface Differing {
  path: Key[];
  mine: unknown;
  theirs: unknown;
  /** Who changed it since both began. */
  changedBy: Side | "both";
}

/** What names a thing, and so is no part of what is edited. */
const IDENTITY = ["slug", "path"];

/** The parts in which two versions of a thing differ, as deep as both have the same shape. */
export function differingParts(base: unknown, mine: unknown, theirs: unknown): Differing[] {
  return differences([], base, mine, theirs).filter(
    ({ path }) => path.length !== 1 || !IDENTITY.includes(String(path[0])),
  );
}

function differences(path: Key[], base: unknown, mine: unknown, theirs: unknown): Differing[] {
  if (saySame(mine, theirs)) return [];
  const keys = commonKeys(mine, theirs);
  if (keys)
    return keys.flatMap((key) => differences([...path, key], at(base, key), at(mine, key), at(theirs, key)));
  const byMe = !saySame(base, mine);
  const byThem = !saySame(base, theirs);
  return [{ path, mine, theirs, changedBy: byMe === byThem ? "both" : byMe ? "mine" : "theirs" }];
}

/** The parts of two values that are looked at one by one; null where they stand as a whole. */
function commonKeys(mine: unknown, theirs: unknown): Key[] | null {
  if (Array.isArray(mine) && Array.isArray(theirs))
    return mine.length === theirs.length && mine.some(isObject) ? [...mine.keys()] : null;
  if (!isObject(mine) || !isObject(theirs)) return null;
  return [...new Set([...Object.keys(mine), ...Object.keys(theirs)])];
}

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === "object" && value !== null && !Array.isArray(value);

const at = (value: unknown, key: Key): unknown =>
  isObject(value) || Array.isArray(value) ? (value as Record<Key, unknown>)[key] : undefined;

/** Whether two values say the same: what is empty says as much as what is not there. */
function saySame(one: unknown, other: unknown): boolean {
  return JSON.stringify(plain(one)) === JSON.stringify(plain(other));
}

function plain(value: unknown): unknown {
  if (Array.isArray(value)) return value.length ? value.map(plain) : undefined;
  if (!isObject(value)) return value === "" || value === null ? undefined : value;
  const kept = Object.entries(value)
    .map(([key, one]) => [key, plain(one)] as const)
    .filter(([, one]) => one !== undefined)
    .toSorted(([a], [b]) => (a < b ? -1 : 1));
  return kept.length ? Object.fromEntries(kept) : undefined;
}

/** Mine with theirs in the parts that are taken from them. */
export function merged<T>(mine: T, taken: Differing[]): T {
  const whole = structuredClone(mine);
  return taken.reduce<unknown>((tree, part) => withPart(tree, part.path, part.theirs), whole) as T;
}

function withPart(tree: unknown, [key, ...rest]: Key[], value: unknown): unknown {
  if (key === undefined) return value;
  if (Array.isArray(tree))
    return tree.map((one, place) => (place === key ? withPart(one, rest, value) : one));
  const now = isObject(tree) ? tree : {};
  const next = withPart(now[key], rest, value);
  const { [key]: _, ...others } = now;
  return next === undefined ? others : { ...now, [key]: next };
}

/** How a part is called: `Condition, visitors, include`, `Actions 2, piece`. */
export function partName(path: Key[]): string {
  const words: string[] = [];
  for (const key of path) {
    if (typeof key === "number") words.push(`${words.pop() ?? "part"} ${key + 1}`);
    else words.push(key.replaceAll("_", " "));
  }
  const name = words.join(", ");
  return name.charAt(0).toUpperCase() + name.slice(1);
}

/** A value as it is read: a text as it stands, all else as JSON. */
export function partText(value: unknown): string {
  if (value === undefined || value === null || value === "") return "nothing";
  return typeof value === "string" ? value : JSON.stringify(value, null, 1);
}
