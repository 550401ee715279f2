import Autocomplete from "@mui/material/Autocomplete";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { pageNumbers } from "../api/pageBits";
import { searchQuery, treeQuery } from "../api/queries";
import { useSite } from "./site";
import { useDebounced } from "./useDebounced";

const MOST_FOUND = 10;

interface Props {
  path: string;
  onChoose: (path: string) => void;
  label?: string;
  /** Whether Enter also takes an address at which there is no page. */
  anyAddress?: boolean;
}

/** The address of the page, or part of a title to find another. */
export function PageFinder({ path, onChoose, label = "Page to look at", anyAddress = false }: Props) {
  const site = useSite();
  const tree = useQuery(treeQuery(site.slug, site.inventory_version)).data;
  const [text, setText] = useState<string | null>(null);
  const typed = useDebounced(text?.trim() ?? "", 60);
  const found = useQuery({
    ...searchQuery(site.slug, typed.startsWith("/") ? `"${typed}"` : typed),
    enabled: typed !== "",
  });
  const numbers =
    text && typed && found.data && !found.isError ? pageNumbers(found.data.pages).slice(0, MOST_FOUND) : [];
  return (
    <Autocomplete<number, false, true, false>
      autoHighlight
      disableClearable
      clearOnBlur={false}
      forcePopupIcon={false}
      sx={{ minWidth: 140, flex: "0 1 180px" }}
      open={numbers.length > 0}
      value={undefined as never}
      options={numbers}
      filterOptions={(fitting) => fitting}
      getOptionLabel={(number) => tree?.paths[number] ?? ""}
      inputValue={text ?? path}
      onInputChange={(_, wanted, reason) => reason === "input" && setText(wanted)}
      onChange={(_, number) => {
        const chosen = tree?.paths[number];
        if (chosen) onChoose(chosen);
        setText(null);
      }}
      onClose={() => setText(null)}
      onBlur={() => setText(null)}
      renderOption={({ key: _, ...props }, number) => (
        <li {...props} key={number}>
          <span>{tree?.titles[number]}</span>
          <span className="mono mute count">{tree?.paths[number]}</span>
        </li>
      )}
      slotProps={{ listbox: { "aria-label": "Pages", className: "offer" } }}
      renderInput={(params) => (
        <TextField
          {...params}
          placeholder="Part of a title or a path"
          slotProps={{
            ...params.slotProps,
            htmlInput: {
              ...params.slotProps?.htmlInput,
              "aria-label": label,
              className: "mono",
              onKeyDown: (event: React.KeyboardEvent<HTMLInputElement>) => {
                if (event.key !== "Enter" || !anyAddress || !text?.startsWith("/") || numbers.length) return;
                onChoose(text.trim());
                setText(null);
              },
              onFocus: (event: React.FocusEvent<HTMLInputElement>) => event.target.select(),
            },
          }}
        />
      )}
    />
  );
}
