import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { ApiError } from "../api/client";
import { pageNumbers } from "../api/pageBits";
import { searchQuery } from "../api/queries";
import { useAddress } from "../parts/site";
import { useDebounced } from "../parts/useDebounced";

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
  const bits = asked && result.data && !problem ? result.data.pages : null;
  const found = useMemo(() => (bits === null ? null : new Set(pageNumbers(bits))), [bits]);
  const condition = asked && result.data && !problem ? result.data.condition : "";
  // What is found is of an older text until the newest has been asked and answered.
  const pending = text.trim() !== asked || result.isPlaceholderData;
  return { text, setText, found, problem, condition, pending };
}
