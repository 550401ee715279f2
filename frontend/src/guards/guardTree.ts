import { ApiError, answer, api, type Shapes } from "../api/client";
import { CONDITION_PARTS, normalSchedule } from "../conditions/condition";

export type GuardTree = Shapes["GuardTree"];
export type Demand = Shapes["DemandTree"];

/** Whether two forms of a guard say the same. */
export function sameGuard(a: GuardTree, b: GuardTree): boolean {
  return JSON.stringify(normal(a)) === JSON.stringify(normal(b));
}

function normal(tree: GuardTree) {
  const condition = tree.condition ?? {};
  return {
    name: tree.name.trim(),
    note: tree.note ?? "",
    on: tree.on ?? true,
    queries: CONDITION_PARTS.map((part) => part.read(condition).trim()),
    schedule: normalSchedule(condition.schedule),
    demand: trimmed(tree.demand),
  };
}

/** A demand without what says nothing, its parts in one order. */
function trimmed(demand: Demand) {
  const said = Object.entries(demand).filter(
    ([, value]) => value !== "" && (value as unknown[]).length !== 0,
  );
  return said.sort(([one], [other]) => one.localeCompare(other));
}

/**
 * Put a guard among those of the site: in place of the one that was edited, or as the last. Resolves to its name and the
 * version of them all. Refused where somebody changed the same guard meanwhile, unless over the version that holds their
 * form; changes of other guards stay.
 */
export async function sendGuard(site: string, edited: GuardTree | null, tree: GuardTree, over: number) {
  const { trees, version } = await readGuards(site);
  const place = edited ? trees.findIndex((one) => one.name === edited.name) : -1;
  const theirs = trees[place];
  if (edited && theirs && !sameGuard(theirs, edited) && over !== version) {
    throw new ApiError(412, "changed-meanwhile", `${edited.name} was changed while you edited it`, "", [], {
      theirs,
      version,
    });
  }
  const items = place < 0 ? [...trees, tree] : trees.with(place, tree);
  try {
    const made = await declareGuards(site, items, version);
    return { id: tree.name.trim(), version: made.version };
  } catch (error) {
    // What is wrong is told from the list; the form is one guard of it.
    throw error instanceof ApiError ? about(error, `/guards/${place < 0 ? items.length - 1 : place}`) : error;
  }
}

function about(error: ApiError, pointer: string): ApiError {
  const problems = error.problems.map((one) => ({
    ...one,
    pointer: one.pointer.startsWith(pointer) ? one.pointer.slice(pointer.length) || "/name" : one.pointer,
  }));
  return new ApiError(error.status, error.code, error.message, error.detail, problems, error.body);
}

/** The guards of a site as they are saved now, with the version of them all. */
export async function readGuards(site: string) {
  const now = await answer(api.GET("/api/sites/{site}/guards", { params: { path: { site } } }));
  return { trees: now.items.map((one) => one.guard), version: now.version };
}

export const declareGuards = (site: string, items: GuardTree[], version: number) =>
  answer(
    api.PUT("/api/sites/{site}/guards", {
      params: { path: { site }, header: { "If-Match": `"${version}"` } },
      body: { items },
    }),
  );

/** Whether a demand still lacks what it asks of or for, so that it cannot be asked. */
export function isHalfAsked(demand: Demand): boolean {
  const named = (demand.pieces ?? []).length > 0;
  switch (demand.is) {
    case "shows":
    case "bare":
      return !demand.slot;
    case "holds":
    case "lacks":
      return !named;
    case "at-most":
      return !named && !demand.kind && !demand.item;
    default:
      if (demand.setting) return (demand.values ?? []).length === 0;
      return demand.slot ? !named : (demand.templates ?? []).length === 0;
  }
}
