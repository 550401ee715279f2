import { useRef } from "react";
import { type Shapes, sendFiles } from "../api/client";
import { useMessage, useTellError } from "./messages";
import { useRefresh, useSite } from "./site";

/** A file for the site, a picture or a font: the hidden field to choose it with, and what opens it. */
export function useTakeFile(label: string, accept: string, onTaken: (taken: Shapes["FileInfo"]) => void) {
  const site = useSite();
  const refresh = useRefresh();
  const tell = useMessage();
  const tellError = useTellError();
  const field = useRef<HTMLInputElement>(null);
  const take = async (data: File | undefined) => {
    if (!data) return;
    const form = new FormData();
    form.append("data", data);
    try {
      const taken = await sendFiles<Shapes["FileInfo"]>(`/api/sites/${site.slug}/files`, form);
      await refresh();
      tell(`Took in ${taken.name}${taken.width ? `, ${taken.width} by ${taken.height} pixels` : ""}`);
      onTaken(taken);
    } catch (error) {
      tellError(error);
    }
  };
  const input = (
    <input
      ref={field}
      hidden
      type="file"
      accept={accept}
      aria-label={label}
      onChange={(event) => {
        take(event.target.files?.[0]);
        event.target.value = "";
      }}
    />
  );
  return { input, open: () => field.current?.click() };
}
