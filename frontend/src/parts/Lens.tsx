import Button from "@mui/material/Button";
import ButtonGroup from "@mui/material/ButtonGroup";
import Popover from "@mui/material/Popover";
import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useState } from "react";
import { lensQuery } from "../api/queries";
import { useCommand } from "./commands";
import { useLens, useSite } from "./site";
import { when } from "./words";

// What choosing a moment takes is fetched when it is first opened.
const LensBox = lazy(() => import("./LensBox"));

/** The eyes through which the site is seen: every fact about the visitor, and the moment. `L` opens it. */
export function Lens() {
  const site = useSite();
  const lens = useLens();
  const read = useQuery(lensQuery(site.slug, lens));
  const [anchor, setAnchor] = useState<HTMLDivElement | null>(null);
  const [open, setOpen] = useState(false);
  useCommand("Change the lens", "L", () => setOpen(true));
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
      <ButtonGroup className="lens" aria-label="Seen by" variant="outlined" color="inherit" ref={setAnchor}>
        <span className="lens-name">Seen by</span>
        {read.isError && segment("wrong", "a visitor that cannot be read")}
        {words.slice(0, 2).map((text) => segment(text, text))}
        {words.length > 2 && segment("more", words.slice(2).join(", "))}
        {lens.at && segment("at", when(lens.at))}
      </ButtonGroup>
      <Popover
        open={open}
        anchorEl={anchor}
        onClose={() => setOpen(false)}
        anchorOrigin={{ vertical: "bottom", horizontal: "right" }}
        transformOrigin={{ vertical: "top", horizontal: "right" }}
      >
        {/* As wide as what comes, so that it opens where it fits. */}
        <Suspense fallback={<div className="popover wide" />}>
          <LensBox />
        </Suspense>
      </Popover>
    </>
  );
}
