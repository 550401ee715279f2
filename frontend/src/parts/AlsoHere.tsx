import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { api } from "../api/client";
import { presenceQuery } from "../api/peopleQueries";
import { useSite } from "./site";

/** Who else has the same rule or piece before them, so that two do not edit it unawares. */
export function AlsoHere({ thing }: { thing: string }) {
  const site = useSite().slug;
  const names = useQuery(presenceQuery(site, thing)).data?.names ?? [];
  useEffect(
    () => () => {
      const leaving = { params: { path: { site }, query: { thing } } };
      // Where this is not heard, it ends by itself.
      api.DELETE("/api/sites/{site}/presence", leaving).catch(() => undefined);
    },
    [site, thing],
  );
  if (names.length === 0) return null;
  return (
    <p className="also-here" role="status">
      <b>{names.join(", ")}</b> {names.length === 1 ? "has" : "have"} this open too. Whoever saves second is
      shown both versions.
    </p>
  );
}
