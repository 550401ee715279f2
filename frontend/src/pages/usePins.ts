import { useState } from "react";
import { answer, api } from "../api/client";
import { useMessage, useTellError } from "../parts/messages";
import { usePieces, useRefresh, useSite } from "../parts/site";
import { pinFor } from "./newRule";

/** Pinning a piece on one page: an ordinary rule for that page alone. */
export function usePins() {
  const site = useSite();
  const refresh = useRefresh();
  const { bySlug } = usePieces();
  const tell = useMessage();
  const tellError = useTellError();
  const [pinning, setPinning] = useState(false);
  const pin = async (path: string, target: string, piece: string | null) => {
    setPinning(false);
    try {
      const body = pinFor(path, target, piece ? (bySlug.get(piece) ?? null) : null);
      const made = await answer(
        api.POST("/api/sites/{site}/rules", { params: { path: { site: site.slug } }, body }),
      );
      await refresh();
      tell(`Made the rule ${made.rule.name}`);
    } catch (error) {
      tellError(error);
    }
  };
  return { pinning, setPinning, pin };
}
