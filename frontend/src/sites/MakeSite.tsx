import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { useNavigate } from "react-router";
import { askAnew } from "../api/anew";
import { answer, api, type Shapes, wrongFields } from "../api/client";
import { sitesQuery } from "../api/siteQueries";
import { Chooser } from "../parts/controls";

const FIELDS = [
  ["name", "Name of the site", "As people call it"],
  ["slug", "Short name for addresses", "Lower-case letters, digits and single hyphens"],
  ["address", "Address", "Where it is published, as https://example.org; may wait"],
] as const;

interface Props {
  title: string;
}

/** Making a site. */
export function MakeSite({ title }: Props) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const [drawn, setDrawn] = useState<Shapes["SiteRequest"]["form"]>("arranged");
  const make = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const text = (field: string) => String(form.get(field));
    const body = { name: text("name"), slug: text("slug"), address: text("address"), form: drawn };
    try {
      const made = await answer(api.POST("/api/sites", { body }));
      navigate(`/${made.slug}/site`);
      await askAnew(client, sitesQuery);
    } catch (error) {
      setWrong(
        wrongFields(
          error,
          FIELDS.map(([field]) => field),
        ),
      );
    }
  };
  return (
    <form onSubmit={make}>
      <h1>{title}</h1>
      <p className="mute">
        It begins empty. Its pages are taken in next, from a folder of HTML files or a layout file.
      </p>
      {FIELDS.map(([field, label, help]) => (
        <TextField
          key={field}
          fullWidth
          required={field !== "address"}
          label={label}
          name={field}
          autoComplete="off"
          error={Boolean(wrong[field])}
          helperText={wrong[field] || help}
        />
      ))}
      <Chooser
        label="How its pages are drawn"
        value={drawn ?? "arranged"}
        options={[
          ["arranged", "Its pages are put together from their content"],
          ["in-place", "Its pages are drawn in their own HTML: a site that exists"],
        ]}
        onChange={setDrawn}
      />
      {wrong.all && (
        <p className="field-error" role="alert">
          {wrong.all}
        </p>
      )}
      <Button type="submit" variant="contained">
        Make the site
      </Button>
    </form>
  );
}
