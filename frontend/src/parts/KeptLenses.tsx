import type { LensParams } from "../api/queries";
import { KeptNames } from "./KeptNames";
import { useLasting } from "./memory";
import { useAddress, useLens } from "./site";

/** Lenses that were given a name, to look through again. */
export function KeptLenses() {
  const lens = useLens();
  const { set } = useAddress();
  const [kept, setKept] = useLasting<(LensParams & { name: string })[]>("lenses", []);
  return (
    <fieldset className="lens-field">
      <legend className="lens-label">Lenses with a name</legend>
      <KeptNames<LensParams>
        kept={kept}
        now={lens}
        same={(one, other) => one.visitor === other.visitor && one.at === other.at}
        label="Name for this lens"
        onUse={({ visitor, at }) => set({ visitor: visitor || null, at: at || null })}
        onChange={setKept}
      />
    </fieldset>
  );
}
