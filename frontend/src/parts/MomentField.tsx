import { AdapterDayjs } from "@mui/x-date-pickers/AdapterDayjs";
import { DateTimePicker } from "@mui/x-date-pickers/DateTimePicker";
import { LocalizationProvider } from "@mui/x-date-pickers/LocalizationProvider";
import dayjs, { type Dayjs } from "dayjs";
import { useState } from "react";

interface Props {
  label: string;
  /** A local date-time such as `2026-12-01T18:00`; empty for none. */
  value: string;
  wrong?: boolean;
  onChange: (value: string) => void;
}

const WRITTEN = "YYYY-MM-DDTHH:mm";
/** A year below this is one that is still being typed. */
const FIRST_YEAR = 1000;

const read = (text: string) => (text ? dayjs(text) : null);

/** A moment on the clock of the site: typed part by part, or chosen. What is no moment yet changes nothing. */
export function MomentField({ label, value, wrong = false, onChange }: Props) {
  // What is being typed stays as it is while it comes to a moment, digit by digit; null while nothing is.
  const [typed, setTyped] = useState<{ moment: Dayjs | null } | null>(null);
  const change = (moment: Dayjs | null) => {
    setTyped({ moment });
    if (moment === null) onChange("");
    else if (moment.isValid() && moment.year() >= FIRST_YEAR) onChange(moment.format(WRITTEN));
  };
  return (
    <LocalizationProvider dateAdapter={AdapterDayjs}>
      <DateTimePicker
        label={label}
        ampm={false}
        format="YYYY-MM-DD HH:mm"
        timeSteps={{ minutes: 1 }}
        value={typed ? typed.moment : read(value)}
        onChange={change}
        onClose={() => setTyped(null)}
        slotProps={{
          textField: { size: "small", error: wrong, fullWidth: true, onBlur: () => setTyped(null) },
          field: { clearable: true },
        }}
      />
    </LocalizationProvider>
  );
}
