import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { bindingsQuery } from "../api/bindingQueries";
import { rulesQuery } from "../api/ruleQueries";
import { useLens, useLinkTo, usePieces, useSite } from "../parts/site";
import { count } from "../parts/words";

/** From nothing to the first strips, in five steps; what is done stands ticked. */
export function FirstSteps() {
  const site = useSite();
  const linkTo = useLinkTo();
  const pieces = usePieces().list.length;
  const rules = useQuery(rulesQuery(site.slug, useLens())).data?.length ?? 0;
  const inPlace = site.settings.some((one) => one.name === "page-form" && one.default === "in-place");
  const bound = useQuery({ ...bindingsQuery(site.slug), enabled: inPlace }).data?.bindings.length ?? 0;
  const steps: [string, boolean, ReactNode][] = [
    [
      "Made",
      true,
      inPlace ? "Its pages are drawn in their own HTML." : "Its pages are put together from their content.",
    ],
    [
      "Take its pages in",
      site.pages > 0,
      site.pages ? count(site.pages, "page") : "From the folder of the site, below.",
    ],
    inPlace
      ? [
          "Say where slots are",
          bound > 0,
          <Link key="to" to={linkTo("site/bindings")}>
            {bound ? count(bound, "binding") : "Proposed from the pages"}
          </Link>,
        ]
      : [
          "Make pieces",
          pieces > 0,
          <Link key="to" to={linkTo(pieces ? "pieces" : "starters")}>
            {pieces ? count(pieces, "piece") : "From starters, or from nothing"}
          </Link>,
        ],
    inPlace
      ? [
          "Make pieces and rules of what stands there",
          rules > 0,
          <Link key="to" to={linkTo("site/bindings")}>
            {rules ? count(rules, "rule") : "Found on the pages"}
          </Link>,
        ]
      : [
          "Say by rules where they show",
          rules > 0,
          <Link key="to" to={linkTo("rules")}>
            {rules ? count(rules, "rule") : "The first rule"}
          </Link>,
        ],
    [
      "See the strips",
      false,
      <Link key="to" to={linkTo("pages")}>
        What every page gets, and why
      </Link>,
    ],
  ];
  return (
    <section aria-label="First steps" className="first-steps">
      <h2>From nothing to the first strips</h2>
      <ol>
        {steps.map(([name, done, told]) => (
          <li key={name} className={done ? "done" : undefined}>
            <b>{name}</b>
            <span className="mute">{told}</span>
            {done && <span className="visually-hidden">done</span>}
          </li>
        ))}
      </ol>
    </section>
  );
}
