import Button from "@mui/material/Button";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useSite } from "../parts/site";
import { count, targetName } from "../parts/words";
import { type Binding, fitWords } from "./fit";
import { type Placed, placedQuery } from "./laidOut";

interface Props {
  bindings: Binding[];
  onShow: (binding: Binding) => void;
  onAdd: (bindings: Binding[]) => void;
}

/** Places that may be those of slots, each with what tells so. */
export function Proposals({ bindings, onShow, onAdd }: Props) {
  const site = useSite();
  const found = useQuery(placedQuery(useQueryClient(), site.slug, site.inventory_version));
  const open = (found.data?.proposed ?? []).filter(
    (one) => !bindings.some((known) => known.selector === one.binding.selector),
  );
  const firsts = open.filter(
    (one, at) =>
      one.sure &&
      open.findIndex((other) => other.binding.slot === one.binding.slot) === at &&
      !bindings.some((known) => known.slot === one.binding.slot),
  );
  return (
    <section aria-label="Proposed" className="proposals">
      <div className="row">
        <h2 className="grow">Proposed</h2>
        {firsts.length > 1 && (
          <Button variant="outlined" onClick={() => onAdd(firsts.map((one) => one.binding))}>
            Bind the first of each slot
          </Button>
        )}
      </div>
      <p className="mute" role="status">
        {found.isPending && "Looking at the pages …"}
        {found.data &&
          (open.length
            ? `From ${count(found.data.asked, "page")} of all sections: landmarks, what parts are called, what stands on many.`
            : "Nothing more is proposed.")}
      </p>
      {open.map((one) => (
        <Row key={`${one.binding.slot} ${one.binding.selector}`} one={one} onShow={onShow} onAdd={onAdd} />
      ))}
    </section>
  );
}

function Row({ one, onShow, onAdd }: { one: Placed } & Omit<Props, "bindings">) {
  const name = targetName(one.binding.slot);
  return (
    <div className="proposal">
      <b>{name}</b>
      <span className="mono">{one.binding.selector}</span>
      <span className="mute">
        {one.why} · {fitWords(one.fit)} ·{" "}
        {one.distinct === 1 ? "the same everywhere" : `${one.distinct} different contents`}
        {!one.seen && " · hidden at 1280 px by the page's own styles"}
      </span>
      <span className="row">
        <Button
          variant="text"
          aria-label={`Show ${one.binding.selector}`}
          onClick={() => onShow(one.binding)}
        >
          Show
        </Button>
        <Button
          variant="outlined"
          aria-label={`Bind ${name} to ${one.binding.selector}`}
          onClick={() => onAdd([one.binding])}
        >
          Bind
        </Button>
      </span>
    </div>
  );
}
