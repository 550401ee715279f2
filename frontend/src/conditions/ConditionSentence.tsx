import Button from "@mui/material/Button";
import { answer, api } from "../api/client";
import { useTellError } from "../parts/messages";
import { useSite } from "../parts/site";
import { CONDITION_PARTS, type Condition, type ConditionPart } from "./condition";
import { Line, Sentence, type SentenceProps, type TermAt } from "./Sentence";

type Spoken = Pick<SentenceProps, "tone" | "leads" | "empty" | "add">;

/** How each of the four queries is read out as part of the sentence. */
const SENTENCES: Record<ConditionPart["key"], Spoken> = {
  include: { tone: "", leads: ["On pages", "or"], empty: "none yet", add: "pages" },
  exclude: { tone: "against", leads: ["but not on", "nor on"], empty: "nothing left out", add: "but not" },
  visitorsInclude: { tone: "who", leads: ["seen by", "or by"], empty: "everyone", add: "only" },
  visitorsExclude: { tone: "who", leads: ["but not by", "nor by"], empty: "nobody left out", add: "but not" },
};

interface Props {
  condition: Condition;
  /** Whether an empty include means every page, as in the entry of a sidebar. */
  emptyIsAll?: boolean;
  /** Put other texts into parts of the newest condition. */
  onChange: (texts: [ConditionPart, string][]) => void;
  /** A term about pages is pointed at, or none any more. */
  onPoint?: ((at: PointedAt | null) => void) | undefined;
}

/** A term by its place in a condition. */
export interface PointedAt extends TermAt {
  part: ConditionPart["key"];
}

/** Where, and for whom, as a sentence of tokens. Pages and visitors can each be turned into their opposite. */
export function ConditionSentence({ condition, emptyIsAll = false, onChange, onPoint }: Props) {
  const spoken = (part: ConditionPart): Spoken =>
    part.key === "include" && emptyIsAll
      ? { ...SENTENCES.include, empty: "every page", add: "only" }
      : SENTENCES[part.key];
  return (
    <>
      {CONDITION_PARTS.map((part) => (
        <Sentence
          key={part.key}
          text={part.read(condition)}
          domain={part.domain}
          onChange={(text) => onChange([[part, text]])}
          onPoint={onPoint && ((at) => onPoint(at && { ...at, part: part.key }))}
          {...spoken(part)}
        />
      ))}
      <Line lead="">
        <Swap condition={condition} onChange={onChange} />
        <TurnRound half="page" emptyIsAll={emptyIsAll} condition={condition} onChange={onChange} />
        <TurnRound half="visitor" emptyIsAll condition={condition} onChange={onChange} />
      </Line>
    </>
  );
}

const [INCLUDE, EXCLUDE] = CONDITION_PARTS as [ConditionPart, ConditionPart];

/** What is included put in the place of what is excluded, and the other way round. */
function Swap({ condition, onChange }: Pick<Props, "condition" | "onChange">) {
  const waits = EXCLUDE.read(condition) ? "" : "Waits for pages that are left out";
  return (
    <Button
      variant="text"
      disabled={waits !== ""}
      title={waits || undefined}
      onClick={() =>
        onChange([
          [INCLUDE, EXCLUDE.read(condition)],
          [EXCLUDE, INCLUDE.read(condition)],
        ])
      }
    >
      Swap on and not on
    </Button>
  );
}

const TURNS = { page: "The opposite pages", visitor: "The opposite visitors" };

/** One half of a condition turned into its opposite: reached are exactly those that were not. */
function TurnRound({
  half,
  condition,
  emptyIsAll,
  onChange,
}: Required<Omit<Props, "onPoint">> & { half: "page" | "visitor" }) {
  const site = useSite();
  const tellError = useTellError();
  const [reached, left] = CONDITION_PARTS.filter((part) => part.domain === half) as [
    ConditionPart,
    ConditionPart,
  ];
  const include = reached.read(condition);
  const exclude = left.read(condition);
  const turn = async () => {
    try {
      const turned = await answer(
        api.POST("/api/sites/{site}/opposite", {
          params: { path: { site: site.slug } },
          body: { include, exclude, domain: half, empty_is_all: emptyIsAll },
        }),
      );
      onChange([
        [reached, turned.include],
        [left, turned.exclude],
      ]);
    } catch (error) {
      tellError(error);
    }
  };
  const waits = include || exclude ? "" : "Waits for a condition to turn round";
  return (
    <Button variant="text" disabled={waits !== ""} title={waits || undefined} onClick={turn}>
      {TURNS[half]}
    </Button>
  );
}
