import { useNavigate } from "react-router";
import type { Shapes } from "../api/client";
import { useLinkTo } from "../parts/site";

interface Props {
  reach: Shapes["ReachInfo"];
  /** Whether there is something to be saved first. */
  changed: boolean;
  /** What saving waits for; empty where nothing stands in its way. */
  waits: string;
  /** Save; resolves to whether that was done. */
  onSave: () => Promise<boolean>;
}

/** One page that gets it and one that does not, a click from their preview. */
export function SeenOn({ reach, changed, waits, onSave }: Props) {
  const navigate = useNavigate();
  const linkTo = useLinkTo();
  if (!reach.gets) return null;
  const look = async (path: string) => {
    if (!changed || (await onSave())) navigate(linkTo("preview", { path }));
  };
  const at = ({ path, title }: Shapes["PageRow"]) => (
    <button
      type="button"
      className="as-link"
      disabled={changed && waits !== ""}
      title={(changed && waits) || path}
      onClick={() => look(path)}
    >
      {title}
    </button>
  );
  return (
    <p className="mute seen-on">
      {changed ? "Save and see it on " : "See it on "}
      {at(reach.gets)}
      {reach.lacks && <>, and not on {at(reach.lacks)}</>}
    </p>
  );
}
