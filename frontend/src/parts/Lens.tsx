import Button from "@mui/material/Button";
import ButtonGroup from "@mui/material/ButtonGroup";
import Popover from "@mui/material/Popover";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { answer, api, type Shapes } from "../api/client";
import { lensQuery } from "../api/queries";
import { Coming } from "./Coming";
import { KeptLenses } from "./KeptLenses";
import { LensForm } from "./LensForm";
import { MomentField } from "./MomentField";
import { useTellError } from "./messages";
import { useAddress, useLens, useSite } from "./site";
import { when } from "./words";

/** The eyes through which the site is seen: every fact about the visitor, and the moment. `L` opens it. */
export function Lens() {
  const site = useSite();
  const lens = useLens();
  const { set } = useAddress();
  const read = useQuery(lensQuery(site.slug, lens));
  const tellError = useTellError();
  const anchor = useRef<HTMLDivElement>(null);
  const [open, setOpen] = useState(false);
  useHotkeys("l", () => setOpen(true), { useKey: true });
  const change = async (facts: Shapes["LensFacts"]) => {
    try {
      const params = { path: { site: site.slug } };
      const written = await answer(
        api.POST("/api/sites/{site}/lens", { params, body: { facts, at: lens.at } }),
      );
      set({ visitor: written.visitor });
    } catch (error) {
      tellError(error);
    }
  };
  const words = read.data?.words ?? [];
  const segment = (key: string, text: string) => (
    <Button
      key={key}
      aria-haspopup="dialog"
      title="Change the visitor and the moment (L)"
      onClick={() => setOpen(true)}
    >
      <span className="clip">{text}</span>
    </Button>
  );
  return (
    <>
      <ButtonGroup className="lens" aria-label="Seen by" variant="outlined" color="inherit" ref={anchor}>
        <span className="lens-name">Seen by</span>
        {read.isError && segment("wrong", "a visitor that cannot be read")}
        {words.slice(0, 2).map((text) => segment(text, text))}
        {words.length > 2 && segment("more", words.slice(2).join(", "))}
        {lens.at && segment("at", when(lens.at))}
      </ButtonGroup>
      <Popover
        open={open}
        anchorEl={anchor.current}
        onClose={() => setOpen(false)}
        anchorOrigin={{ vertical: "bottom", horizontal: "right" }}
        transformOrigin={{ vertical: "top", horizontal: "right" }}
      >
        <div className="popover wide" role="dialog" aria-label="The lens">
          {read.isError && (
            <div className="note-box bad" role="alert">
              {read.error.message}{" "}
              <Button variant="text" onClick={() => set({ visitor: null, at: null })}>
                See it as the usual visitor, now
              </Button>
            </div>
          )}
          {read.data && <LensForm facts={read.data.facts} change={change} />}
          <div className="row" style={{ marginTop: 10 }}>
            <MomentField label="Moment" value={lens.at} onChange={(at) => set({ at })} />
            <Button variant="text" disabled={!lens.at} onClick={() => set({ at: "" })}>
              Now
            </Button>
          </div>
          <Coming />
          <KeptLenses />
          <p className="mute">{lens.at ? "In the time of the site." : "Now. Set a moment to see another."}</p>
        </div>
      </Popover>
    </>
  );
}
