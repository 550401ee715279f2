import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { findsQuery } from "../api/bindingQueries";
import { answer, api, type Shapes } from "../api/client";
import { useLacking } from "../parts/rights";
import { useLinkTo, useSite } from "../parts/site";
import { useAct } from "../parts/useAct";
import { count, figure, targetName } from "../parts/words";

type Slot = Shapes["SlotFinds"];

/** What stands in the places of slots today, made into pieces and rules that come to just that. */
export function Finds({ changed }: { changed: boolean }) {
  const site = useSite();
  const linkTo = useLinkTo();
  const [asked, setAsked] = useState(0);
  const [made, setMade] = useState("");
  const wanted = asked === site.version && !changed;
  const found = useQuery({ ...findsQuery(site.slug, site.version), enabled: wanted });
  return (
    <section aria-label="What stands there today" className="finds">
      <h2>What stands there today</h2>
      <p className="mute">
        What stands in the place of a slot on two pages or more becomes a piece, and a rule comes to it on
        just these pages. Every page is resolved against what was found on it.
      </p>
      {made && (
        <p className="note-box good">
          {made} <Link to={linkTo("pages")}>See the strips</Link>
        </p>
      )}
      {(!wanted || found.isPending) && (
        <Button
          variant="outlined"
          disabled={changed || found.isFetching}
          title={changed ? "Save the bindings first" : ""}
          onClick={() => setAsked(site.version)}
        >
          {wanted ? "Looking …" : "Look what stands there"}
        </Button>
      )}
      {wanted && found.isError && (
        <p className="field-error" role="alert">
          {found.error.message}
        </p>
      )}
      {wanted && found.data && <Found found={found.data} onMade={setMade} />}
    </section>
  );
}

interface FoundProps {
  found: Shapes["FindsInfo"];
  onMade: (told: string) => void;
}

function Found({ found, onMade }: FoundProps) {
  const site = useSite();
  const act = useAct();
  const lacking = useLacking("editor");
  const [left, setLeft] = useState<string[]>([]);
  const slots = found.slots.filter((one) => one.finds.some((each) => !each.problem));
  const chosen = slots.map((one) => one.slot).filter((slot) => !left.includes(slot));
  const made = slots
    .filter((one) => chosen.includes(one.slot))
    .flatMap((one) => one.finds.filter((each) => !each.problem));
  const pieces = made.reduce((sum, one) => sum + one.pieces, 0);
  const take = () =>
    act(async () => {
      const done = await answer(
        api.POST("/api/sites/{site}/finds", {
          params: { path: { site: site.slug } },
          body: { slots: chosen },
        }),
      );
      const told = `Made ${count(done.pieces, "piece")} and ${count(done.rules, "rule")} of what was found.`;
      onMade(told);
      return `${told} They are in the draft, not live yet.`;
    });
  const decided = found.slots.reduce((sum, one) => sum + one.decided, 0);
  const nothingLeft = decided > 0 && found.right + found.wrong === 0;
  return (
    <>
      <p className={found.wrong ? "note-box" : "note-box good"} role="status">
        {nothingLeft ? (
          <>
            <b>Rules decide already what stands there</b>, in {count(decided, "place")}. Nothing is left to be
            taken.
          </>
        ) : found.wrong === 0 ? (
          <>
            <b>All {count(found.right, "place")} come out as they are</b>, resolved page by page.
          </>
        ) : (
          <>
            <b>{count(found.right, "place")} come out as they are</b>, {figure(found.wrong)} do not:{" "}
            {found.wrong_first.join(", ")}
          </>
        )}
      </p>
      {found.slots.map((one) => (
        <SlotFinds
          key={one.slot}
          one={one}
          chosen={chosen.includes(one.slot)}
          onChoose={(on) =>
            setLeft((slots) => (on ? slots.filter((slot) => slot !== one.slot) : [...slots, one.slot]))
          }
        />
      ))}
      {nothingLeft ? null : slots.length === 0 ? (
        <p className="mute">
          {decided > 0 ? "Nothing else stands on two pages" : "The same stands nowhere on two pages"}, so
          there is nothing to make a piece of. Bind a smaller part, or make pieces of your own: a rule with
          one takes the place of what stands there.
        </p>
      ) : (
        <div className="row">
          <Button
            variant="contained"
            disabled={made.length === 0 || Boolean(lacking)}
            title={lacking || (made.length === 0 ? "Choose a slot first" : "")}
            onClick={take}
          >
            Make {count(pieces, "piece")} and {count(made.length, "rule")}
          </Button>
        </div>
      )}
    </>
  );
}

interface SlotProps {
  one: Slot;
  chosen: boolean;
  onChoose: (chosen: boolean) => void;
}

function SlotFinds({ one, chosen, onChoose }: SlotProps) {
  const name = targetName(one.slot);
  const can = one.finds.some((each) => !each.problem);
  return (
    <section aria-label={`Found in ${name}`} className="slot-finds">
      <h3>
        <Checkbox
          size="small"
          checked={chosen}
          disabled={!can}
          onChange={(event) => onChoose(event.target.checked)}
          slotProps={{ input: { "aria-label": `Take what stands in ${name}` } }}
        />
        {name}
      </h3>
      <table className="places">
        <tbody>
          {one.finds.map((each) => (
            <tr key={each.name}>
              <td className="number">{count(each.pages, "page")}</td>
              <td>
                <span className="mono">{each.include || each.first.slice(0, 3).join(", ")}</span>
                {each.exclude && <span className="mono mute"> not {each.exclude}</span>}
                {each.problem && <p className="field-error">{each.problem}. It stays as it is there.</p>}
              </td>
            </tr>
          ))}
          {one.decided > 0 && (
            <tr>
              <td className="number">{count(one.decided, "page")}</td>
              <td className="mute">{one.decided === 1 ? "is" : "are"} decided by rules or locks already</td>
            </tr>
          )}
          {one.alone > 0 && (
            <tr>
              <td className="number">{count(one.alone, "page")}</td>
              <td className="mute">
                {one.alone === 1 ? "shows" : "show"} something there that no other page does, and{" "}
                {one.alone === 1 ? "keeps" : "keep"} it: {one.alone_first.slice(0, 4).join(", ")}
                {one.alone > 4 && " …"}
              </td>
            </tr>
          )}
        </tbody>
      </table>
    </section>
  );
}
