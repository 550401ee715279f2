import type { Shapes } from "../api/client";
import { figure } from "./words";

/** What is lost of some markup, with how many of each. */
export function LostList({ lost }: { lost: Shapes["LostInfo"][] }) {
  return lost.map(({ what, count }, at) => (
    <span key={what}>
      {at > 0 && ", "}
      {figure(count)} <span className="mono">{what}</span>
    </span>
  ));
}
