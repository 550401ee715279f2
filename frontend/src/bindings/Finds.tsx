import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { findsQuery } from "../api/bindingQueries";
import { answer, api, type Shapes } from "../api/client";
import { LostList } from "../parts/LostList";
import { useLacking } from "../parts/rights";
import { useLinkTo, useSite } from "../parts/site";
import { useAct } from "../parts/useAct";
import { count, figure, targetName } from "../parts/words";
import { FindPicture } from "./FindPicture";
import type { Binding } from "./fit";

type Slot = Shapes["SlotFinds"];
type Find = Shapes["FindInfo"];

/** What stands in the places of slots today, made into pieces and rules that come to just that. */
export function Finds({ bindings, changed }: { bindings: Binding[]; changed: boolean }) {
  const site = useSite();
  const linkTo = useLinkTo();
  const [asked, setAsked] = useState(0);
  const [made, setMade] = useState("");
  const [left, setLeft] = useState<string[] | null>(null);
  const wanted = asked === site.version && !changed;
  const found = useQuery({ ...findsQuery(site.slug, site.version, left), enabled: wanted });
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
          onClick={() => {
            setLeft(null);
            setAsked(site.version);
          }}
        >
          {wanted ? "Looking …" : "Look what stands there"}
        </Button>
      )}
      {wanted && found.isError && (
        <p className="field-error" role="alert">
          {found.error.message}
        </p>
      )}
      {wanted && found.data && (
        <Found
          found={found.data}
          bindings={bindings}
          waits={found.isPlaceholderData}
          left={left}
          onLeave={setLeft}
          onMade={setMade}
        />
      )}
    </section>
  );
}

interface FoundProps {
  found: Shapes["FindsInfo"];
  bindings: Binding[];
  /** Whether it is of what was left before. */
  waits: boolean;
  /** The keys of finds that stay as they are; null: of those whose pieces would lack something. */
  left: string[] | null;
  onLeave: (left: string[]) => void;
  onMade: (told: string) => void;
}

function Found({ found, bindings, waits, left, onLeave, onMade }: FoundProps) {
  const site = useSite();
  const act = useAct();
  const lacking = useLacking("editor");
  const slots = found.slots.filter((one) => takeable(one).length > 0);
  const isTaken = (one: Find) => (left ? !left.includes(one.key) : !one.left);
  const chosen = slots.filter((one) => takeable(one).some(isTaken)).map((one) => one.slot);
  const made = slots.flatMap((one) => takeable(one).filter(isTaken));
  const choose = (finds: Find[], on: boolean) => {
    const keys = finds.map((one) => one.key);
    const stays = slots
      .flatMap((one) => takeable(one).filter((each) => !isTaken(each)))
      .map((one) => one.key);
    onLeave(on ? stays.filter((key) => !keys.includes(key)) : [...new Set([...stays, ...keys])]);
  };
  const pieces = made.reduce((sum, one) => sum + one.pieces, 0);
  const take = () =>
    act(async () => {
      const done = await answer(
        api.POST("/api/sites/{site}/finds", {
          params: { path: { site: site.slug } },
          body: { slots: chosen, left },
        }),
      );
      const told = `Made ${count(done.pieces, "piece")} and ${count(done.rules, "rule")} of what was found.`;
      onMade(told);
      return `${told} They are in the draft, not live yet.`;
    });
  const decided = found.slots.reduce((sum, one) => sum + one.decided, 0);
  const isNothing = found.right + found.wrong === 0;
  const nothingLeft = decided > 0 && isNothing;
  return (
    <>
      <p className={found.wrong || found.lessened ? "note-box" : "note-box good"} role="status">
        {nothingLeft ? (
          <>
            <b>Rules decide already what stands there</b>, in {count(decided, "place")}. Nothing is left to be
            taken.
          </>
        ) : isNothing ? (
          <b>Nothing stands in these places.</b>
        ) : found.wrong + found.lessened === 0 ? (
          <>
            <b>All {count(found.right, "place")} come out as they are</b>, resolved page by page.
          </>
        ) : (
          <>
            <b>{count(found.right - found.lessened, "place")} come out as they are</b>
            {found.lessened > 0 && `, ${figure(found.lessened)} without what their pieces lack`}
            {found.wrong > 0 && `, ${figure(found.wrong)} do not: ${found.wrong_first.join(", ")}`}
          </>
        )}
      </p>
      {found.slots.some((one) => one.finds.some((each) => each.lost.length > 0)) && (
        <p className="mute">
          A piece holds nothing that runs or is fetched from elsewhere. What would lack something stays as it
          is, unless you tick it.
        </p>
      )}
      {found.slots.map((one) => (
        <SlotFinds
          key={one.slot}
          one={one}
          bindings={bindings.filter((each) => each.slot === one.slot)}
          isTaken={isTaken}
          onChoose={choose}
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
            disabled={made.length === 0 || waits || Boolean(lacking)}
            title={
              lacking || (made.length === 0 ? "Choose something first" : waits ? "It is being looked at" : "")
            }
            onClick={take}
          >
            Make {count(pieces, "piece")} and {count(made.length, "rule")}
          </Button>
        </div>
      )}
    </>
  );
}

/** The first of its pages. */
const someOf = ({ first, pages }: Find) => first.slice(0, 3).join(", ") + (pages > 3 ? " …" : "");

/** What can be made into pieces and rules. */
const takeable = (one: Slot) => one.finds.filter((each) => !each.problem);

interface SlotProps {
  one: Slot;
  bindings: Binding[];
  isTaken: (one: Find) => boolean;
  onChoose: (finds: Find[], on: boolean) => void;
}

function SlotFinds({ one, bindings, isTaken, onChoose }: SlotProps) {
  const name = targetName(one.slot);
  const all = one.finds.reduce((sum, each) => sum + each.pages, one.alone + one.decided);
  const finds = takeable(one);
  const taken = finds.filter(isTaken);
  return (
    <section aria-label={`Found in ${name}`} className="slot-finds">
      <h3>
        <Checkbox
          size="small"
          checked={taken.length > 0}
          indeterminate={taken.length > 0 && taken.length < finds.length}
          disabled={finds.length === 0}
          onChange={() => onChoose(finds, taken.length < finds.length)}
          slotProps={{ input: { "aria-label": `Take what stands in ${name}` } }}
        />
        {name}
      </h3>
      <table className="places">
        <tbody>
          {one.finds.map((each) => (
            <tr key={each.key}>
              <td className="choice">
                {(finds.length > 1 || each.lost.length > 0) && !each.problem && (
                  <Checkbox
                    size="small"
                    checked={isTaken(each)}
                    onChange={(event) => onChoose([each], event.target.checked)}
                    slotProps={{ input: { "aria-label": `Take what ${each.first[0]} shows in ${name}` } }}
                  />
                )}
              </td>
              <td className="pictured">
                <FindPicture title={`${name} of ${each.first[0]}`} paths={each.first} bindings={bindings} />
              </td>
              <td className="number">
                {count(each.pages, "page")}
                <i className="share" style={{ "--share": each.pages / all } as React.CSSProperties} />
              </td>
              <td>
                <span className="mono">{each.include || someOf(each)}</span>
                {finds.length > 1 && each.include === "all" && (
                  <span className="mute"> but where another of these counts</span>
                )}
                {each.exclude && <span className="mono mute"> not {each.exclude}</span>}
                {each.left && <span className="mute"> stays as it is there</span>}
                {each.lost.length > 0 && (
                  <p className={each.left ? "lacks mute" : "lacks"}>
                    Its piece would lack <LostList lost={each.lost} />
                  </p>
                )}
                {each.problem && <p className="field-error">{each.problem}. It stays as it is there.</p>}
              </td>
            </tr>
          ))}
          {one.decided > 0 && (
            <tr>
              <td className="choice" />
              {one.finds.length > 0 && <td className="pictured" />}
              <td className="number">{count(one.decided, "page")}</td>
              <td className="mute">{one.decided === 1 ? "is" : "are"} decided by rules or locks already</td>
            </tr>
          )}
          {one.alone > 0 && (
            <tr>
              <td className="choice" />
              {one.finds.length > 0 && <td className="pictured" />}
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
