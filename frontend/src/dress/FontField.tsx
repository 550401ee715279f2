import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { filesQuery } from "../api/queries";
import { Chooser } from "../parts/controls";
import { useSite } from "../parts/site";
import { useTakeFile } from "../parts/useTakeFile";

interface Props {
  label: string;
  value: string;
  families: string[];
  onChange: (font: string) => void;
}

/** A family that every computer has, a font file of the site, or one that is taken in on the spot. */
export function FontField({ label, value, families, onChange }: Props) {
  const site = useSite();
  const fonts = (useQuery(filesQuery(site.slug)).data ?? []).filter((one) => one.type === "font/woff2");
  const { input, open } = useTakeFile(`${label}, from a file`, ".woff2,font/woff2", (taken) =>
    onChange(taken.name),
  );
  const known = [...families, ...fonts.map((one) => one.name)];
  return (
    <div className="dress-measure">
      <span className="mute">{label.replace("Font ", "")}</span>
      <Chooser
        label={label}
        value={value}
        options={[...known, ...(known.includes(value) ? [] : [value])].map((one) => [one, one] as const)}
        onChange={onChange}
      />
      <Button variant="text" aria-label={`${label}: take one in`} onClick={open}>
        Take one in …
      </Button>
      {input}
    </div>
  );
}
