import { KeptNames } from "../parts/KeptNames";
import { useLasting } from "../parts/memory";
import { Opening } from "../parts/Opening";

interface Query {
  text: string;
}

interface Props {
  text: string;
  onUse: (text: string) => void;
}

/** Searches that were given a name, to be made again. */
export function KeptSearches({ text, onUse }: Props) {
  const [kept, setKept] = useLasting<(Query & { name: string })[]>("searches", []);
  return (
    <Opening text="Searches" about="Searches with a name">
      {() => (
        <KeptNames<Query>
          kept={kept}
          now={{ text: text.trim() }}
          same={(one, other) => one.text === other.text}
          label="Name for this search"
          waits={text.trim() ? "" : "Waits for a search"}
          onUse={(one) => onUse(one.text)}
          onChange={setKept}
        />
      )}
    </Opening>
  );
}
