import TextField from "@mui/material/TextField";

interface Props {
  /** How it is called. */
  label: string;
  address: string;
  help?: string;
}

/** An address to be sent to somebody: chosen whole by a click, and not to be written in. */
export function AddressField({ label, address, help }: Props) {
  return (
    <TextField
      fullWidth
      value={address}
      helperText={help}
      onFocus={(event) => event.target.select()}
      slotProps={{ htmlInput: { "aria-label": label, readOnly: true, className: "mono" } }}
    />
  );
}
