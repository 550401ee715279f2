import Button, { type ButtonProps } from "@mui/material/Button";
import Popover from "@mui/material/Popover";
import { type ReactNode, useState } from "react";

interface Props extends Omit<ButtonProps, "children"> {
  /** What stands on the button. */
  text: ReactNode;
  /** How the box is called. */
  about: string;
  /** What stands in the box; it is made while that is open. */
  children: (close: () => void) => ReactNode;
}

/** A button that opens a box. */
export function Opening({ text, about, children, ...button }: Props) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const close = () => setAnchor(null);
  return (
    <>
      <Button
        variant="text"
        {...button}
        aria-haspopup="dialog"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        {text}
      </Button>
      <Popover open={anchor !== null} anchorEl={anchor} onClose={close}>
        {anchor && (
          <div className="popover" role="dialog" aria-label={about}>
            {children(close)}
          </div>
        )}
      </Popover>
    </>
  );
}
