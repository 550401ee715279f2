import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import { type Shapes, sendFiles } from "../api/client";
import { picturesQuery } from "../api/queries";
import { Chooser } from "../parts/controls";
import { useMessage, useTellError } from "../parts/messages";
import { useRefresh, useSite } from "../parts/site";

interface Props {
  value: string;
  label: string;
  onChange: (name: string) => void;
}

/** One of the site's pictures, or one that is taken in on the spot. */
export function PictureField({ value, label, onChange }: Props) {
  const site = useSite();
  const refresh = useRefresh();
  const tell = useMessage();
  const tellError = useTellError();
  const file = useRef<HTMLInputElement>(null);
  const pictures = useQuery(picturesQuery(site.slug)).data ?? [];
  const chosen = pictures.find((one) => one.name === value);
  const take = async (data: File | undefined) => {
    if (!data) return;
    const form = new FormData();
    form.append("data", data);
    try {
      const taken = await sendFiles<Shapes["PictureInfo"]>(`/api/sites/${site.slug}/pictures`, form);
      await refresh();
      tell(`Took in ${taken.name}, ${taken.width} by ${taken.height} pixels`);
      onChange(taken.name);
    } catch (error) {
      tellError(error);
    }
  };
  return (
    <span className="grow picture-field">
      <Chooser
        label={label}
        value={value}
        options={[["", "none"] as const, ...pictures.map((one) => [one.name, one.name] as const)]}
        onChange={onChange}
      />
      {value && !chosen && <span className="field-error">There is no picture {value}.</span>}
      {chosen && <img src={chosen.address} alt={chosen.name} />}
      <Button variant="text" onClick={() => file.current?.click()}>
        Take one in …
      </Button>
      <input
        ref={file}
        hidden
        type="file"
        accept="image/png,image/jpeg,image/webp,image/gif,image/svg+xml"
        aria-label={`${label}, from a file`}
        onChange={(event) => {
          take(event.target.files?.[0]);
          event.target.value = "";
        }}
      />
    </span>
  );
}
