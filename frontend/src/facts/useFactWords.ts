import { useQuery } from "@tanstack/react-query";
import { termsQuery, treeQuery } from "../api/queries";
import { useSite } from "../parts/site";
import { targetName } from "../parts/words";
import { type Facts, type Lock, ownerOf } from "./factsTree";

/** Facts in words: terms by name, the page above by title, locks with who owns them. Empty for none. */
export function useFactWords(): (fact: keyof Facts, facts: Facts) => string {
  const site = useSite();
  const terms = useQuery(termsQuery(site.slug)).data;
  const tree = useQuery(treeQuery(site.slug, site.inventory_version)).data;
  const termName = (path: string) => terms?.find((term) => term.path === path)?.name ?? path;
  return (fact, facts) => {
    switch (fact) {
      case "terms":
        return facts.terms.map(termName).join(", ");
      case "parent":
        return tree?.titles[tree.paths.indexOf(facts.parent)] ?? facts.parent;
      case "fields":
        return facts.fields.map(([name, text]) => `${name}: ${text}`).join(", ");
      case "locks":
        return facts.locks.map(lockWords).join("; ");
      default:
        return facts[fact];
    }
  };
}

/** A locked place with whose it is and why. */
function lockWords(lock: Lock): string {
  const told = ownerOf(lock);
  return told ? `${targetName(lock.slot)} (${told})` : targetName(lock.slot);
}
