import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { bindingsQuery } from "../api/bindingQueries";
import { rulesQuery } from "../api/ruleQueries";
import { useLens, useLinkTo, usePieces, useSite } from "../parts/site";
import { count } from "../parts/words";

/** A step: what is to be done, how much of it is there, what that is called, and where it is done. */
interface Step {
  name: string;
  there: number;
  what: string;
  /** What is told while nothing is there. */
  first: string;
  view?: string;
}

/** From nothing to the first strips, in five steps; what is done stands ticked. */
export function FirstSteps() {
  const site = useSite();
  const linkTo = useLinkTo();
  const pieces = usePieces().list.length;
  const rules = useQuery(rulesQuery(site.slug, useLens())).data?.length ?? 0;
  const inPlace = site.settings.some((one) => one.name === "page-form" && one.default === "in-place");
  const bound = useQuery({ ...bindingsQuery(site.slug), enabled: inPlace }).data?.bindings.length ?? 0;
  const found = "Make pieces and rules of what stands there";
  const own: Step[] = inPlace
    ? [
        {
          name: "Say where slots are",
          there: bound,
          what: "binding",
          first: "Proposed from the pages",
          view: "site/bindings",
        },
        { name: found, there: rules, what: "rule", first: "Found on the pages", view: "site/bindings" },
      ]
    : [
        {
          name: "Make pieces",
          there: pieces,
          what: "piece",
          first: "From starters, or from nothing",
          view: pieces ? "pieces" : "starters",
        },
        {
          name: "Say by rules where they show",
          there: rules,
          what: "rule",
          first: "The first rule",
          view: "rules",
        },
      ];
  const steps: Step[] = [
    { name: "Make the site", there: 1, what: "site", first: "" },
    {
      name: "Take its pages in",
      there: site.pages,
      what: "page",
      first: "From its folder, an archive or its address, below.",
    },
    ...own,
    { name: "See the strips", there: 0, what: "", first: "What every page gets, and why", view: "pages" },
  ];
  return (
    <section aria-label="First steps" className="first-steps">
      <h2>From nothing to the first strips</h2>
      <ol>
        {steps.map(({ name, there, what, first, view }) => {
          const told = there ? count(there, what) : first;
          return (
            <li key={name} className={there ? "done" : undefined}>
              <b>{name}</b>
              <span className="mute">{view ? <Link to={linkTo(view)}>{told}</Link> : told}</span>
              {there > 0 && <span className="visually-hidden">done</span>}
            </li>
          );
        })}
      </ol>
    </section>
  );
}
