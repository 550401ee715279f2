import type { LensParams } from "../api/queries";
import { KeptNames } from "./KeptNames";
import { useLasting } from "./memory";
import { useAddress, useLens } from "./site";

interface Props {
  /** Whether something was chosen that the address does not say yet. */
  pending: boolean;
  /** What is told when one of them is looked through: nothing that was chosen before counts any more. */
  onUse: () => void;
}

/** Lenses that were given a name, to look through again. */
export function KeptLenses({ pending, onUse }: Props) {
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
        waits={pending ? "Waits until what was chosen is seen" : ""}
        onUse={({ visitor, at }) => {
          onUse();
          set({ visitor: visitor || null, at: at || null });
        }}
        onChange={setKept}
      />
    </fieldset>
  );
}
