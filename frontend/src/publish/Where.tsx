import Button from "@mui/material/Button";
import { type ReactNode, useState } from "react";
import { Link } from "react-router";
import type { Shapes } from "../api/client";
import { useLinkTo } from "../parts/site";
import { count } from "../parts/words";
import "./publish.css";

interface WhereProps {
  where: Shapes["Somewhere"];
  children: ReactNode;
  /** Its pages as a strip. */
  strip?: ReactNode;
}

/** One line of what differs, with its pages behind a button. */
export function Where({ where, children, strip }: WhereProps) {
  const [open, setOpen] = useState(false);
  return (
    <li>
      <div className="row">
        <span className="grow">{children}</span>
        <PagesButton where={where} open={open} onOpen={setOpen} />
      </div>
      {strip}
      {open && <Paths where={where} />}
    </li>
  );
}

interface PagesButtonProps {
  where: Shapes["Somewhere"];
  open: boolean;
  onOpen: (open: boolean) => void;
}

export function PagesButton({ where, open, onOpen }: PagesButtonProps) {
  return (
    <Button variant="text" aria-expanded={open} onClick={() => onOpen(!open)}>
      {count(where.pages, "page")}
    </Button>
  );
}

export function Paths({ where }: { where: Shapes["Somewhere"] }) {
  const linkTo = useLinkTo();
  return (
    <p className="mono paths">
      {where.paths.map((path) => (
        <Link key={path} to={linkTo("preview", { path, beside: "live" })}>
          {path}
        </Link>
      ))}
      {where.pages > where.paths.length && `and ${count(where.pages - where.paths.length, "more page")}`}
    </p>
  );
}
