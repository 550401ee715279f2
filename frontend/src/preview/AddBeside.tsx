import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { looksQuery, revisionsQuery } from "../api/queries";
import { Opening } from "../parts/Opening";
import { PageFinder } from "../parts/PageFinder";
import { useLens, useSite } from "../parts/site";
import { capital, when } from "../parts/words";
import { type Beside, tellBeside } from "./sides";

/** Revisions and looks that are offered. */
const MOST_OFFERED = 8;

interface Props {
  path: string;
  /** What stands beside it already. */
  besides: Beside[];
  onAdd: (side: Beside) => void;
}

/** What else can stand beside the page: live, a revision, the page as others see it, another page. */
export function AddBeside({ path, besides, onAdd }: Props) {
  return (
    <Opening text="+ beside it" variant="outlined" about="Put beside it">
      {(close) => (
        <Offers
          path={path}
          besides={besides}
          onAdd={(side) => {
            close();
            onAdd(side);
          }}
        />
      )}
    </Opening>
  );
}

function Offers({ path, besides, onAdd }: Props) {
  const site = useSite();
  const revisions = useQuery(revisionsQuery(site.slug)).data ?? [];
  const looks = useQuery(looksQuery(site.slug, path, useLens())).data?.looks ?? [];
  const there = besides.map((side) => tellBeside([side]));
  const offer = (name: string, side: Beside) =>
    !there.includes(tellBeside([side])) && (
      <Button key={name} variant="text" onClick={() => onAdd(side)} sx={{ justifyContent: "start" }}>
        {name}
      </Button>
    );
  return (
    <div className="offers">
      {site.live && offer("What is live", { kind: "live" })}
      {revisions
        .filter((one) => !one.live)
        .slice(0, MOST_OFFERED)
        .map((one) =>
          offer(`Revision ${one.number}, ${one.note || when(one.published)}`, {
            kind: "revision",
            number: one.number,
          }),
        )}
      {looks.length > 1 && <p className="mute">As others see it</p>}
      {looks
        .filter((look) => !look.current)
        .slice(0, MOST_OFFERED)
        .map((look) => offer(capital(look.words), { kind: "lens", visitor: look.visitor, at: look.at }))}
      <p className="mute">Another page</p>
      <PageFinder
        path=""
        label="Page to put beside it"
        onChoose={(chosen) => onAdd({ kind: "page", path: chosen })}
      />
    </div>
  );
}
