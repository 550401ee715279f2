import type { Shapes } from "../api/client";

export type Place = Shapes["FactPlaceTree"];
export type Line = Shapes["FactRecipeTree"];

/** The places in which a fact may stand, and how each is called. */
export const ATS: readonly (readonly [Place["at"], string])[] = [
  ["standards", "As standards say"],
  ["heading", "First heading"],
  ["title", "Title element"],
  ["meta", "Meta element"],
  ["data", "Linked data"],
  ["link", "Link relation"],
  ["element", "Element"],
  ["trail", "Breadcrumbs"],
  ["navigation", "Navigation"],
  ["path", "Part of the path"],
  ["file", "File name"],
  ["fixed", "Always"],
];

/** What stands in the field beside a place; none for a place that needs nothing said. */
export const OF: Partial<Record<Place["at"], string>> = {
  meta: "og:description",
  data: "author.name",
  link: "up",
  element: ".byline",
  trail: "any trail",
  navigation: "any navigation",
  path: "1",
  fixed: "article",
};

const NAMES: Record<string, string> = {
  title: "Title",
  kind: "Kind",
  type: "Type",
  parent: "Page above",
  author: "Author",
  language: "Language",
  published: "Published",
};

/** What a fact is called. */
export function factName(fact: string): string {
  const [family, name] = fact.split("/");
  if (family === "terms") return `Terms: ${name}`;
  if (family === "fields") return `Field: ${name}`;
  return NAMES[fact] ?? fact;
}

/** Where a fact is looked for, in words. */
export function placeWords(place: Place): string {
  const name = ATS.find(([at]) => at === place.at)?.[1] ?? place.at;
  const more = [
    place.of,
    place.attribute && `its ${place.attribute}`,
    place.take && `what matches ${place.take}`,
  ];
  return [name, ...more.filter(Boolean)].join(" · ");
}

/** The values that a place means otherwise, as they are typed: `archive = listing, blog = listing`. */
export function valuesText(values: Place["values"]): string {
  return Object.entries(values ?? {})
    .map(([found, meant]) => `${found} = ${meant}`)
    .join(", ");
}

/** What was typed, as values; what is not whole yet is left out. */
export function valuesOf(text: string): Record<string, string> {
  const pairs = text.split(",").map((pair) => pair.split("=").map((part) => part.trim()));
  return Object.fromEntries(pairs.filter(([found, meant]) => found && meant !== undefined)) as Record<
    string,
    string
  >;
}

/** A place without what says nothing, so that two alike are the same. */
export function bare(place: Place): Place {
  const kept = Object.entries(place).filter(
    ([, value]) => value !== "" && !(typeof value === "object" && Object.keys(value).length === 0),
  );
  return Object.fromEntries(kept) as Place;
}

const ASKING: readonly Place["at"][] = ["meta", "data", "link", "element", "path", "fixed"];

/** Whether every place of a line says what it looks for. */
export const isWhole = (line: Line) => line.places.every((place) => place.of || !ASKING.includes(place.at));

/** How each fact is looked for on the site: as it says of its own, else as it comes. */
export function lines(standard: Line[], own: Line[]): Line[] {
  const said = new Map(own.map((line) => [line.fact, line]));
  const known = standard.map((line) => said.get(line.fact) ?? line);
  return [...known, ...own.filter((line) => !standard.some((one) => one.fact === line.fact))];
}

/** The site's own recipe with one line otherwise; a line as it comes is not said. */
export function withLine(standard: Line[], own: Line[], line: Line): Line[] {
  const comes = standard.find((one) => one.fact === line.fact);
  const same = comes && JSON.stringify(comes.places.map(bare)) === JSON.stringify(line.places.map(bare));
  if (same) return own.filter((one) => one.fact !== line.fact);
  return own.some((one) => one.fact === line.fact)
    ? own.map((one) => (one.fact === line.fact ? line : one))
    : [...own, line];
}
