import { useCallback } from "react";
import { useMessage, useTellError } from "./messages";
import { useRefresh } from "./site";

/** Carry out a write: what is on screen is asked anew, then what was done is told; an error is told instead. */
export function useAct(): (work: () => Promise<string>) => Promise<void> {
  const refresh = useRefresh();
  const tell = useMessage();
  const tellError = useTellError();
  return useCallback(
    async (work) => {
      try {
        const said = await work();
        await refresh();
        tell(said);
      } catch (error) {
        tellError(error);
      }
    },
    [refresh, tell, tellError],
  );
}
