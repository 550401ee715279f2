import { useQueries } from "@tanstack/react-query";
import { useState } from "react";
import { placeQuery } from "../api/bindingQueries";
import { Frame } from "../parts/Frame";
import { hasPicked } from "../parts/picked";
import { useSite } from "../parts/site";
import { useSeen } from "../parts/useSeen";
import { NARROWER, WIDTHS } from "../parts/widths";
import type { Binding } from "./fit";

interface Props {
  /** What it is a picture of. */
  title: string;
  /** The pages that show it, and the bindings of its slot: one of them finds it there. */
  paths: string[];
  bindings: Binding[];
}

/** What stands in the place of a slot, small, in the styles of its page; on another page where those hide it. */
export function FindPicture({ title, paths, bindings }: Props) {
  const site = useSite();
  const [spot, seen] = useSeen<HTMLDivElement>();
  const [at, setAt] = useState(0);
  const path = paths[at] ?? paths[0] ?? "";
  const isLast = at + 1 >= Math.min(paths.length, MOST_TRIED);
  // Pages of another build have another binding.
  const asked = useQueries({
    queries: bindings.map((one) => ({ ...placeQuery(site.slug, path, one), enabled: seen })),
  });
  const html = asked.map((one) => one.data?.html ?? "").find(hasPicked);
  return (
    <div ref={spot} inert className="find-picture">
      {html && (
        <Frame
          key={at}
          html={html}
          title={title}
          width={WIDTHS.desktop}
          height={150}
          picked="alone"
          least={0.25}
          narrower={isLast ? NARROWER : undefined}
          onUnseen={isLast ? undefined : () => setAt(at + 1)}
        />
      )}
    </div>
  );
}

/** Pages on which it is looked for. */
const MOST_TRIED = 3;
