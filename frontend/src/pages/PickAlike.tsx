import Button from "@mui/material/Button";
import { useMemo } from "react";
import type { Tree } from "../api/queries";
import { useAllColumns } from "../parts/site";
import { count, targetName } from "../parts/words";
import { pagesLike } from "./standing";

interface Props {
  path: string;
  target: string;
  tree: Tree;
  onPick: (numbers: number[]) => void;
}

/** Pages like this one, picked at once: those with the same here, and those that look the same in everything. */
export function PickAlike({ path, target, tree, onPick }: Props) {
  const columns = useAllColumns();
  const number = tree.paths.indexOf(path);
  const pages = tree.paths.length;
  const column = columns.find((one) => one.target === target);
  const same = useMemo(() => (column ? pagesLike([column], number, pages) : []), [column, number, pages]);
  const alike = useMemo(() => pagesLike(columns, number, pages), [columns, number, pages]);
  if (number < 0 || !column) return null;
  return (
    <div className="row" style={{ flexWrap: "wrap", marginTop: 4 }}>
      <Button variant="text" onClick={() => onPick(same)}>
        Pick {count(same.length, "page")} with the same {targetName(target).toLowerCase()}
      </Button>
      <Button variant="text" onClick={() => onPick(alike)}>
        {alike.length === 1
          ? "No other page looks like this"
          : `Pick ${count(alike.length, "page")} that look like this`}
      </Button>
    </div>
  );
}
