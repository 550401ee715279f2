import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { placeQuery } from "../api/bindingQueries";
import { Frame } from "../parts/Frame";
import { useSite } from "../parts/site";
import { useSeen } from "../parts/useSeen";
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
  const [number, setNumber] = useState(0);
  const binding = bindings[number];
  const picture = useQuery({
    ...placeQuery(site.slug, path, binding ?? NONE),
    enabled: seen && binding !== undefined,
  }).data;
  const html = picture?.html ?? "";
  // Pages of another build have another binding.
  if (html && !html.includes(MARK) && number + 1 < bindings.length) setNumber(number + 1);
  return (
    <div ref={spot} inert className="find-picture">
      {html.includes(MARK) && (
        <Frame
          key={at}
          html={html}
          title={title}
          width={1280}
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

const MARK = "<!--nv-picked-->";
const NONE: Binding = { slot: "", selector: "", how: "element", where: "" };
/** Pages on which it is looked for, and the widths after that of a desktop. */
const MOST_TRIED = 3;
const NARROWER = [800, 390];
