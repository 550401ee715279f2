import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { ApiError } from "../api/client";
import { searchQuery } from "../api/queries";
import { useAddress } from "../parts/site";
import { useDebounced } from "../parts/useDebounced";

const NO_PAGES: number[] = [];

/** The search field: its text lives in the address; what it finds comes from the server. */
export function useSearch(site: string) {
  const { get, set } = useAddress();
  const [text, setText] = useState(get("q"));
  const rested = useDebounced(text, 60);
  useEffect(() => {
    set({ q: rested.trim() || null });
  }, [rested, set]);
  const asked = rested.trim();
  const result = useQuery({ ...searchQuery(site, asked), enabled: asked !== "" });
  const problem = asked && result.error instanceof ApiError ? result.error.of("query") : undefined;
  const numbers = asked && result.data && !problem ? result.data.numbers : null;
  const found = useMemo(() => (numbers ? new Set(numbers.length ? numbers : NO_PAGES) : null), [numbers]);
  const condition = asked && result.data && !problem ? result.data.condition : "";
  return { text, setText, found, problem, condition };
}
