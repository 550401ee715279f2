import Button from "@mui/material/Button";
import { useNavigate } from "react-router";
import { answer, api } from "../api/client";
import { useMessage, useTellError } from "../parts/messages";
import { useLinkTo, useRefresh, useSite } from "../parts/site";

interface Props {
  slug: string;
  path: string;
  target: string;
  label?: string;
}

/** A copy of the piece for this page alone, pinned here, and opened to be changed; the shared one stays as it is. */
export function VaryHere({ slug, path, target, label = "Vary it here" }: Props) {
  const site = useSite();
  const refresh = useRefresh();
  const navigate = useNavigate();
  const linkTo = useLinkTo();
  const tell = useMessage();
  const tellError = useTellError();
  const vary = async () => {
    try {
      const params = { path: { site: site.slug, piece: slug } };
      const made = await answer(
        api.POST("/api/sites/{site}/pieces/{piece}/vary", { params, body: { path, target } }),
      );
      await refresh();
      tell(`Made ${made.name}, pinned on ${path}. It is in the draft, not live yet.`);
      navigate(linkTo(`pieces/${made.slug}`));
    } catch (error) {
      tellError(error);
    }
  };
  return (
    <Button variant="outlined" onClick={vary}>
      {label}
    </Button>
  );
}
