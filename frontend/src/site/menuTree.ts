/** A menu as it stands in the layout file, and what can be done to its lines. */
export interface Entry {
  text?: string;
  page?: string;
  href?: string;
  panel?: string;
  entries?: Entry[];
}
export interface Menu {
  slug: string;
  name: string;
  entries: Entry[];
}
/** The way to a line: its place at each level, from the top down. */
export type Way = number[];

/** The line at the end of a way; the menu itself at the end of none. */
export function at(menu: Menu, way: Way): { entries?: Entry[] } | undefined {
  return way.reduce<{ entries?: Entry[] } | undefined>((one, place) => one?.entries?.[place], menu);
}

/** The menu with other lines below the line at a way. */
function withEntries(menu: Menu, way: Way, change: (entries: Entry[]) => Entry[]): Menu {
  const into = (entries: Entry[], [first, ...rest]: Way): Entry[] =>
    first === undefined
      ? change(entries)
      : entries.map((one, place) =>
          place === first ? trimmed({ ...one, entries: into(one.entries ?? [], rest) }) : one,
        );
  return { ...menu, entries: into(menu.entries, way) };
}

/** A line without what says nothing. */
function trimmed(entry: Entry): Entry {
  return Object.fromEntries(Object.entries(entry).filter(([, value]) => value.length > 0)) as Entry;
}

export function withEntry(menu: Menu, way: Way, changes: Entry): Menu {
  const place = way.at(-1) ?? 0;
  return withEntries(menu, way.slice(0, -1), (entries) =>
    entries.map((one, here) => (here === place ? trimmed({ ...one, ...changes }) : one)),
  );
}

export function added(menu: Menu, way: Way): Menu {
  return withEntries(menu, way, (entries) => [...entries, { text: "New line" }]);
}

export function removed(menu: Menu, way: Way): Menu {
  const place = way.at(-1) ?? 0;
  return withEntries(menu, way.slice(0, -1), (entries) => entries.filter((_, here) => here !== place));
}

export function moved(menu: Menu, way: Way, by: 1 | -1): Menu {
  const place = way.at(-1) ?? 0;
  return withEntries(menu, way.slice(0, -1), (entries) => {
    const next = [...entries];
    const [taken] = next.splice(place, 1);
    if (!taken || place + by < 0 || place + by > next.length) return entries;
    next.splice(place + by, 0, taken);
    return next;
  });
}

/** A slug for a name. */
export function slugOf(name: string): string {
  const plain = name.normalize("NFKD").toLowerCase();
  return plain.match(/[a-z0-9]+/g)?.join("-") ?? "menu";
}
