import InputBase, { type InputBaseProps } from "@mui/material/InputBase";
import MenuItem from "@mui/material/MenuItem";
import TextField, { type TextFieldProps } from "@mui/material/TextField";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";

interface ChoiceProps<T extends string> {
  label: string;
  value: T;
  /** Each value with how it is called. */
  options: readonly (readonly [T, string])[];
  onChange: (value: T) => void;
}

/** A few values side by side, one of which holds. */
export function Segments<T extends string>({ label, value, options, onChange }: ChoiceProps<T>) {
  return (
    <ToggleButtonGroup
      exclusive
      size="small"
      aria-label={label}
      value={value}
      onChange={(_, chosen: T | null) => chosen !== null && onChange(chosen)}
    >
      {options.map(([option, name]) => (
        <ToggleButton key={option} value={option}>
          {name}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}

interface ChooserProps<T extends string> extends ChoiceProps<T> {
  disabled?: boolean;
  /** What stands there while nothing is chosen. */
  nothing?: string;
  sx?: TextFieldProps["sx"];
}

/** A list that opens, where a few values side by side would take too much room. Its label is not shown. */
export function Chooser<T extends string>({
  label,
  value,
  options,
  onChange,
  disabled,
  nothing,
  sx,
}: ChooserProps<T>) {
  return (
    <TextField
      select
      disabled={disabled}
      value={value}
      sx={sx}
      onChange={(event) => onChange(event.target.value as T)}
      slotProps={{
        select: {
          displayEmpty: nothing !== undefined || options.some(([option]) => option === ""),
          SelectDisplayProps: { "aria-label": label },
          renderValue: (chosen) =>
            options.find(([option]) => option === chosen)?.[1] ?? nothing ?? String(chosen),
        },
      }}
    >
      {options.map(([option, name]) => (
        <MenuItem key={option} value={option}>
          {name}
        </MenuItem>
      ))}
    </TextField>
  );
}

interface PlainFieldProps extends Omit<InputBaseProps, "onChange"> {
  label: string;
  onChange: (text: string) => void;
}

/** A text that is edited where it stands, without a frame: a name, a note. */
export function PlainField({ label, onChange, className, ...props }: PlainFieldProps) {
  return (
    <InputBase
      fullWidth
      {...props}
      className={className}
      onChange={(event) => onChange(event.target.value)}
      slotProps={{ input: { "aria-label": label } }}
    />
  );
}

interface LabelledFieldProps {
  /** How it is called, with what it belongs to. */
  label: string;
  value: string;
  onChange: (text: string) => void;
  mono?: boolean;
  type?: string;
  rows?: number;
  placeholder?: string;
}

/** A field whose label stands elsewhere on the line. */
export function LabelledField({ label, value, onChange, mono, type, rows, placeholder }: LabelledFieldProps) {
  return (
    <TextField
      fullWidth
      multiline={rows !== undefined}
      minRows={rows}
      type={type}
      value={value}
      placeholder={placeholder}
      onChange={(event) => onChange(event.target.value)}
      slotProps={{ htmlInput: { "aria-label": label, className: mono ? "mono" : undefined } }}
    />
  );
}

interface PriorityProps {
  label: string;
  value: number;
  onChange: (priority: number) => void;
}

/** The priority of a rule: a whole number. */
export function PriorityField({ label, value, onChange }: PriorityProps) {
  return (
    <TextField
      type="number"
      sx={{ width: 84 }}
      value={value}
      slotProps={{ htmlInput: { "aria-label": label, min: -1000, max: 1000 } }}
      onChange={(event) => onChange(Math.trunc(Number(event.target.value)) || 0)}
    />
  );
}
