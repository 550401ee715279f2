import Button from "@mui/material/Button";

/** A small button with a sign on it: how it is called, the sign, whether it is off, what it does. */
export type SignButton = readonly [label: string, sign: string, off: boolean, go: () => void];

/** Small buttons side by side: up, down, away. */
export function SignButtons({ buttons, width = 30 }: { buttons: readonly SignButton[]; width?: number }) {
  return buttons.map(([label, sign, off, go]) => (
    <Button
      key={label}
      variant="text"
      color="inherit"
      aria-label={label}
      title={label}
      disabled={off}
      sx={{ minWidth: width, padding: "0 4px" }}
      onClick={go}
    >
      {sign}
    </Button>
  ));
}
