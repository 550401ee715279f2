import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { filesQuery } from "../api/queries";
import { Chooser } from "../parts/controls";
import { useSite } from "../parts/site";
import { useTakeFile } from "../parts/useTakeFile";

interface Props {
  value: string;
  label: string;
  onChange: (name: string) => void;
}

/** One of the site's pictures, or one that is taken in on the spot. */
export function PictureField({ value, label, onChange }: Props) {
  const site = useSite();
  const files = useQuery(filesQuery(site.slug)).data ?? [];
  const pictures = files.filter((one) => one.type.startsWith("image/"));
  const { input, open } = useTakeFile(
    `${label}, from a file`,
    "image/png,image/jpeg,image/webp,image/gif,image/svg+xml",
    (taken) => onChange(taken.name),
  );
  const chosen = pictures.find((one) => one.name === value);
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
      <Button variant="text" onClick={open}>
        Take one in …
      </Button>
      {input}
    </span>
  );
}
