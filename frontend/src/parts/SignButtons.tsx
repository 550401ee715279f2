import Button from "@mui/material/Button";

/** A small button with a sign on it: how it is called, the sign, why it is off, or false where it is not, what it does. */
export type SignButton = readonly [label: string, sign: string, off: string | false, go: () => void];

/** Why something is not moved further up, or down. */
export const isFirst = (yes: boolean) => yes && "it is the first";
export const isLast = (yes: boolean) => yes && "it is the last";

/** Small buttons side by side: up, down, away. */
export function SignButtons({ buttons, width = 30 }: { buttons: readonly SignButton[]; width?: number }) {
  return buttons.map(([label, sign, off, go]) => (
    <Button
      key={label}
      variant="text"
      color="inherit"
      aria-label={label}
      title={off ? `${label}: ${off}` : label}
      disabled={off !== false}
      sx={{ minWidth: width, padding: "0 4px" }}
      onClick={go}
    >
      {sign}
    </Button>
  ));
}
