import Autocomplete from "@mui/material/Autocomplete";
import TextField from "@mui/material/TextField";
import type { HTMLAttributes, ReactNode } from "react";

interface Props<T> {
  label: string;
  placeholder?: string;
  options: T[];
  keyOf: (option: T) => string;
  /** How an option is called, for what is typed to be compared with. */
  nameOf: (option: T) => string;
  text: string;
  onText: (text: string) => void;
  onChoose: (option: T) => void;
  /** Enter, while nothing in the list is meant. */
  onEnter?: () => void;
  isChosen?: (option: T) => boolean;
  children: (option: T) => ReactNode;
  nothing: string;
}

/** A list that is narrowed by typing, always open: by pointer or by keyboard alone. What fits is the caller's matter. */
export function SearchList<T>({
  label,
  placeholder,
  options,
  keyOf,
  nameOf,
  text,
  onText,
  onChoose,
  onEnter,
  isChosen,
  children,
  nothing,
}: Props<T>) {
  const option = ({ key: _, ...props }: HTMLAttributes<HTMLLIElement> & { key: unknown }, one: T) => (
    <li {...props} key={keyOf(one)} aria-checked={isChosen?.(one)}>
      {children(one)}
    </li>
  );
  return (
    <Autocomplete<T, false, false, false>
      open
      disablePortal
      autoHighlight={text !== ""}
      clearOnBlur={false}
      selectOnFocus={false}
      value={null as T | null}
      options={options}
      filterOptions={(fitting) => fitting}
      getOptionLabel={nameOf}
      getOptionKey={keyOf}
      isOptionEqualToValue={(one, other) => keyOf(one) === keyOf(other)}
      inputValue={text}
      onInputChange={(_, typed, reason) => reason === "input" && onText(typed)}
      onChange={(_, chosen) => chosen && onChoose(chosen as T)}
      renderOption={option}
      noOptionsText={nothing}
      forcePopupIcon={false}
      slots={{ popper: InPlace }}
      slotProps={{ listbox: { "aria-label": `${label}: what fits`, className: "choices" } }}
      renderInput={(params) => (
        <TextField
          {...params}
          autoFocus
          placeholder={placeholder}
          slotProps={{
            ...params.slotProps,
            htmlInput: { ...params.slotProps?.htmlInput, "aria-label": label },
          }}
          onKeyDown={(event) => {
            // The list has no closed state; Escape is for what it stands in.
            if (event.key === "Escape") Object.assign(event, { defaultMuiPrevented: true });
            const meant = (event.target as HTMLElement).getAttribute("aria-activedescendant");
            if (event.key === "Enter" && onEnter && !meant) {
              event.preventDefault();
              onEnter();
            }
          }}
        />
      )}
    />
  );
}

/** The list stands below the field, not above what is around it. */
function InPlace({ children }: { children?: ReactNode | ((props: never) => ReactNode) }) {
  return <div className="choices-place">{children as ReactNode}</div>;
}
