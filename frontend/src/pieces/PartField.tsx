import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense } from "react";
import type { Shapes } from "../api/client";
import { menusQuery } from "../api/queries";
import { Chooser, LabelledField, Segments } from "../parts/controls";
import { PageFinder } from "../parts/PageFinder";
import { QueryField } from "../parts/QueryField";
import { usePieces, useSite } from "../parts/site";
import { FeedField } from "./FeedField";
import { HoursField } from "./HoursField";
import { type LinkPart, LinksField } from "./LinksField";
import { PictureField } from "./PictureField";

interface Props {
  part: Shapes["ItemPart"];
  value: unknown;
  label: string;
  problem?: string;
  /** What may be written in markup. */
  words?: Shapes["MarkupWords"];
  onChange: (value: unknown) => void;
}

const CodeField = lazy(() => import("./CodeField"));

/** The value of an item's setting, by what it takes. */
export function PartField({ part, value, label, problem, words, onChange }: Props) {
  const text = String(value ?? part.default ?? "");
  switch (part.takes) {
    case "text":
      return <LabelledField label={label} rows={3} value={text} onChange={onChange} />;
    case "number":
      return (
        <LabelledField
          label={label}
          type="number"
          value={text}
          onChange={(typed) => onChange(Number(typed))}
        />
      );
    case "choice":
      return (
        <Chooser
          label={label}
          value={text}
          options={part.choices.map((one) => [one, one] as const)}
          onChange={onChange}
        />
      );
    case "switch":
      return (
        <Segments
          label={label}
          value={(value ?? part.default) ? "yes" : "no"}
          options={[["yes", "yes"] as const, ["no", "no"] as const]}
          onChange={(chosen) => onChange(chosen === "yes")}
        />
      );
    case "code":
    case "css":
      return (
        <Suspense>
          <CodeField
            language={part.takes === "css" ? "css" : "markup"}
            label={label}
            value={text}
            problem={problem}
            words={words}
            onChange={onChange}
          />
        </Suspense>
      );
    case "query":
      return <QueryField label={label} value={text} onChange={onChange} />;
    case "links":
      return (
        <LinksField
          links={Array.isArray(value) ? (value as LinkPart[]) : []}
          label={label}
          onChange={onChange}
        />
      );
    case "feed":
      return <FeedField value={text} label={label} onChange={onChange} />;
    case "hours":
      return <HoursField value={value} label={label} onChange={onChange} />;
    case "file":
      return <PictureField value={text} label={label} onChange={onChange} />;
    case "menu":
      return <MenuField value={text} label={label} onChange={onChange} />;
    case "widget":
      return <WidgetField value={text} label={label} onChange={onChange} />;
    case "widgets":
      return (
        <WidgetsField
          values={Array.isArray(value) ? (value as string[]) : []}
          label={label}
          onChange={onChange}
        />
      );
    case "page":
      return <PageFinder path={text} label={label} onChoose={onChange} />;
    default:
      return (
        <LabelledField
          label={label}
          mono={
            part.takes === "href" ||
            part.takes === "own-href" ||
            part.takes === "slot" ||
            part.takes === "slug"
          }
          value={text}
          onChange={onChange}
        />
      );
  }
}

interface FieldProps {
  value: string;
  label: string;
  onChange: (value: string) => void;
}

function MenuField({ value, label, onChange }: FieldProps) {
  const menus = useQuery(menusQuery(useSite().slug)).data?.items ?? [];
  const options = [["", "none"] as const, ...menus.map((menu) => [menu.slug, menu.name] as const)];
  return <Chooser label={label} value={value} options={options} onChange={onChange} />;
}

function useWidgets() {
  return usePieces()
    .list.filter((piece) => piece.kind === "widget")
    .map((piece) => [piece.slug, piece.name] as const);
}

function WidgetField({ value, label, onChange }: FieldProps) {
  const options = [["", "none"] as const, ...useWidgets()];
  return <Chooser label={label} value={value} options={options} onChange={onChange} />;
}

function WidgetsField({
  values,
  label,
  onChange,
}: {
  values: string[];
  label: string;
  onChange: (values: string[]) => void;
}) {
  const widgets = useWidgets();
  const { bySlug } = usePieces();
  return (
    <span className="grow">
      {values.map((slug, place) => (
        <span className="row" key={slug}>
          <span className="grow">{bySlug.get(slug)?.name ?? slug}</span>
          <button
            type="button"
            className="bind"
            aria-label={`Take away slide ${place + 1}`}
            onClick={() => onChange(values.filter((_, at) => at !== place))}
          >
            ×
          </button>
        </span>
      ))}
      <Chooser
        label={label}
        value=""
        nothing="+ widget"
        options={widgets.filter(([slug]) => !values.includes(slug))}
        onChange={(slug) => slug && onChange([...values, slug])}
      />
    </span>
  );
}
