import { Link } from "react-router";
import type { Shapes } from "../api/client";
import { useLinkTo } from "../parts/site";
import { capital, count } from "../parts/words";
import { Paths } from "../publish/Where";

type Info = Shapes["GuardInfo"];

/** How guards stand, in one line: "3 hold, 1 does not". */
export function standingWords(guards: Info[]): string {
  const asked = guards.filter((one) => one.guard.on ?? true);
  const broken = asked.filter((one) => one.broken > 0).length;
  const idle = asked.filter((one) => one.reached === 0).length;
  const holding = asked.length - broken - idle;
  return [
    count(holding, "holds", "hold"),
    broken ? count(broken, "does not", "do not") : "",
    idle ? count(idle, "guards nothing", "guard nothing") : "",
    asked.length < guards.length ? `${guards.length - asked.length} off` : "",
  ]
    .filter(Boolean)
    .join(", ");
}

/** How a guard stands, with what breaks it. */
export function Standing({ info }: { info: Info }) {
  const linkTo = useLinkTo();
  return (
    <>
      <div className="mute">{stateWords(info)}</div>
      {info.breaches.length > 0 && (
        <ul className="list breaches" aria-label="Where it is broken">
          {info.breaches.map((breach) => (
            <li key={`${breach.words} ${breach.who}`}>
              <div>
                On {count(breach.pages, "page")} {breach.words}
                {breach.who !== "everyone" && `, for ${breach.who}`}.{" "}
                {breach.rule !== null && <Link to={linkTo(`rules/${breach.rule}`)}>Open the rule</Link>}
              </div>
              <Paths where={breach} />
            </li>
          ))}
        </ul>
      )}
      {info.unknown.pages > 0 && (
        <div className="warn">
          Not known on {count(info.unknown.pages, "page")}: another system owns the place there, or there are
          too many visitors and times to tell apart.
          <Paths where={info.unknown} />
        </div>
      )}
    </>
  );
}

function stateWords(info: Info): string {
  if (!(info.guard.on ?? true)) return "Off: not asked.";
  if (info.reached === 0) return "Guards nothing: it reaches no page.";
  const where = `for ${info.who}, from now on`;
  if (info.broken > 0) return `Broken on ${info.broken} of ${count(info.reached, "page")}.`;
  const known = info.reached - info.unknown.pages;
  return known
    ? `Holds on ${known === info.reached ? "" : `${known} of `}${count(info.reached, "page")}, ${where}.`
    : "Not known.";
}

/** What a guard asks for, where, as a sentence. */
export const guardSentence = (info: Info) =>
  `${capital(info.demands)} ${info.where.startsWith("everywhere") ? info.where : info.where ? `on pages ${info.where}` : "on no page"}`;
