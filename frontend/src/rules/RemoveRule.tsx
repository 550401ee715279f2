import Button from "@mui/material/Button";
import { useState } from "react";

/** Removing a rule: asked for twice, with how many pages it reaches. It can be undone. */
export function RemoveRule({ name, reach, onRemove }: { name: string; reach: number; onRemove: () => void }) {
  const [asked, setAsked] = useState(false);
  if (!asked) {
    return (
      <Button variant="text" color="inherit" onClick={() => setAsked(true)}>
        Remove …
      </Button>
    );
  }
  return (
    <>
      <Button variant="contained" color="error" onClick={onRemove} title={`Removes ${name}`}>
        Remove, {reach} {reach === 1 ? "page" : "pages"}
      </Button>
      <Button variant="text" color="inherit" onClick={() => setAsked(false)}>
        Keep
      </Button>
    </>
  );
}
