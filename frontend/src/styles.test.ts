import { expect, test } from "vitest";

/** The text of every file below `src`, by its path from there. */
const TEXTS: Record<string, string> = {
  ...import.meta.glob<string>("./**/*.{ts,tsx}", { query: "?raw", import: "default", eager: true }),
  ...import.meta.glob<string>("./**/*.css", { query: "?raw", import: "default", eager: true }),
};
const FILES = Object.keys(TEXTS);
const textOf = (file: string) => TEXTS[file] ?? "";

/** Where an address that stands in a file leads. */
function normalized(file: string, path: string): string {
  const parts: string[] = [];
  for (const part of [...file.split("/").slice(0, -1), ...path.split("/")]) {
    if (part === "..") parts.pop();
    else if (part !== ".") parts.push(part);
  }
  return `./${parts.join("/")}`;
}

/** What a file imports of the project itself, by name or for its effects. */
function imported(file: string): string[] {
  const named = textOf(file).matchAll(/^(?:import|export)\b[^;]*?["'](\.[^"']+)["'];/gms);
  return [...named].flatMap(([, path]) => {
    const at = normalized(file, path as string);
    return [at, `${at}.tsx`, `${at}.ts`].find((one) => one in TEXTS) ?? [];
  });
}

/** All that comes with a file. */
function withAll(file: string, seen = new Set<string>()): Set<string> {
  if (seen.has(file)) return seen;
  seen.add(file);
  if (!file.endsWith(".css")) for (const other of imported(file)) withAll(other, seen);
  return seen;
}

/** The style sheets that give a class a look. */
const STYLED = new Map<string, string[]>();
for (const sheet of FILES.filter((file) => file.endsWith(".css"))) {
  const selectors = textOf(sheet).replaceAll(/\{[^{}]*\}/g, "{}");
  for (const [, name] of selectors.matchAll(/\.([a-z][a-z0-9-]*)/g))
    STYLED.set(name as string, [...(STYLED.get(name as string) ?? []), sheet]);
}

const ALWAYS = withAll("./main.tsx");
const VIEWS = [...textOf("./App.tsx").matchAll(/import\("(\.\/[^"]+)"\)/g)].map(([, path]) => `${path}.tsx`);

test("there are views and styles to look at", () => {
  expect(VIEWS.length).toBeGreaterThan(10);
  expect(STYLED.size).toBeGreaterThan(100);
});

test.each(VIEWS)("%s brings the styles of all that it shows, wherever one came from", (view) => {
  const brought = new Set([...ALWAYS, ...withAll(view)]);
  const lacking = [...brought]
    .filter((file) => file.endsWith(".tsx"))
    .flatMap((file) =>
      [...textOf(file).matchAll(/className="([^"]+)"/g)]
        .flatMap(([, names]) => (names as string).split(" "))
        .filter((name) => STYLED.has(name) && !STYLED.get(name)?.some((sheet) => brought.has(sheet)))
        .map((name) => `${file}: ${name}`),
    );
  expect(lacking).toEqual([]);
});

/** Each class that a style sheet gives a look wherever it stands, with that sheet. */
const ANYWHERE = FILES.filter((file) => file.endsWith(".css") && !ALWAYS.has(file)).flatMap((sheet) =>
  [...textOf(sheet).matchAll(/(?:^|[},])\s*\.([a-z][a-z0-9-]*)(?=\s*[,{])/g)].map(([, name]) => [
    name as string,
    sheet,
  ]),
);

test("no look of one view's class comes to another view's class of the same name", () => {
  // Style sheets stay once a view was seen, so that each looks the same wherever one came from.
  const clashes = ANYWHERE.flatMap(([name = "", sheet = ""]) =>
    (STYLED.get(name) ?? [])
      .filter((other) => other !== sheet && !ALWAYS.has(other))
      .filter((other) => VIEWS.some((view) => withAll(view).has(other) && !withAll(view).has(sheet)))
      .map((other) => `${name}: ${sheet}, ${other}`),
  );
  expect(ANYWHERE.length).toBeGreaterThan(50);
  expect([...new Set(clashes)]).toEqual([]);
});
