import { useQuery } from "@tanstack/react-query";
import { useSyncExternalStore } from "react";
import { sessionQuery } from "../api/queries";
import { useSite } from "./site";

/**
 * Edits that are not saved yet. They live in the browser's storage by person and site, so that leaving a view, a
 * reload and closing the tab lose nothing, and every view can tell of them.
 */
export interface Draft<T = unknown> {
  tree: T;
  /** What the edited thing is called now; for telling of it elsewhere. */
  name: string;
  /** The version that the edit was made from; 0 for something new. */
  version: number;
  /** The saved form that it was made from; not there for something new, and in edits of an earlier program. */
  base?: T;
}

export type DraftKind =
  | "rule"
  | "piece"
  | "page"
  | "guard"
  | "settings"
  | "menus"
  | "dresses"
  | "site"
  | "bindings"
  | "recipe";
export interface DraftEntry {
  kind: DraftKind;
  id: string;
  name: string;
}

const ROOT = "navrel/draft/";
const listeners = new Set<() => void>();
const parsed = new Map<string, { raw: string; draft: Draft | null }>();
let revision = 0;

function changed() {
  revision += 1;
  for (const listener of listeners) listener();
}

export function subscribeDrafts(listener: () => void) {
  listeners.add(listener);
  const fromElsewhere = (event: StorageEvent) => event.key?.startsWith(ROOT) && changed();
  window.addEventListener("storage", fromElsewhere);
  return () => {
    listeners.delete(listener);
    window.removeEventListener("storage", fromElsewhere);
  };
}

export function readDraft(key: string): Draft | null {
  const raw = localStorage.getItem(key);
  if (raw === null) return null;
  const known = parsed.get(key);
  if (known?.raw === raw) return known.draft;
  let draft: Draft | null = null;
  try {
    draft = JSON.parse(raw) as Draft;
  } catch {
    // What cannot be read is no edit.
  }
  parsed.set(key, { raw, draft });
  return draft;
}

export function writeDraft(key: string, draft: Draft | null) {
  if (draft) localStorage.setItem(key, JSON.stringify(draft));
  else localStorage.removeItem(key);
  changed();
}

export function listDrafts(prefix: string): DraftEntry[] {
  const found: DraftEntry[] = [];
  for (let place = 0; place < localStorage.length; place += 1) {
    const key = localStorage.key(place) ?? "";
    if (!key.startsWith(prefix)) continue;
    const [kind, ...id] = key.slice(prefix.length).split("/");
    const draft = readDraft(key);
    if (draft) found.push({ kind: kind as DraftKind, id: id.join("/"), name: draft.name });
  }
  return found.sort((a, b) => a.kind.localeCompare(b.kind) || a.name.localeCompare(b.name));
}

/** Where the drafts of the person at this site stand. */
export function useDraftPrefix(): string {
  const site = useSite();
  const user = useQuery(sessionQuery).data?.username ?? "";
  return `${ROOT}${encodeURIComponent(user)}/${site.slug}/`;
}

let listed = { prefix: "", revision: -1, drafts: [] as DraftEntry[] };

/** The drafts there are now: the same list until one changes. */
function draftsNow(prefix: string): DraftEntry[] {
  if (listed.prefix !== prefix || listed.revision !== revision)
    listed = { prefix, revision, drafts: listDrafts(prefix) };
  return listed.drafts;
}

/** Every edit at this site that is not saved. */
export function useDraftList(): DraftEntry[] {
  const prefix = useDraftPrefix();
  return useSyncExternalStore(subscribeDrafts, () => draftsNow(prefix));
}

/** Whether it is declared under Site, where each kind is one form. */
const isOfSite = (draft: DraftEntry) => ["settings", "menus", "dresses", "site"].includes(draft.kind);

/** The view in which an edit that is not saved yet goes on. */
export function viewOf(draft: DraftEntry): string {
  if (draft.kind === "guard") return "checks";
  return isOfSite(draft) ? "site" : `${draft.kind}s`;
}

/** The address, below the site's, at which it goes on; what it takes besides is asked for with it. */
export function addressOf(draft: DraftEntry): [string, Record<string, string>] {
  if (draft.kind === "dresses") return ["site/dress", {}];
  if (draft.kind === "guard") return [`checks/guards/${encodeURIComponent(draft.id)}`, {}];
  if (draft.kind === "page") return ["pages", { path: draft.id, facts: "edit" }];
  return [isOfSite(draft) ? viewOf(draft) : `${viewOf(draft)}/${draft.id}`, {}];
}
