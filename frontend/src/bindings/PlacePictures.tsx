import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { placeQuery, triedQuery } from "../api/bindingQueries";
import { Frame } from "../parts/Frame";
import { useSite } from "../parts/site";
import { targetName } from "../parts/words";
import { type Binding, type Fit, fitWords } from "./fit";

interface Props {
  binding: Binding;
  fit: Fit | undefined;
  onClose: () => void;
}

/** The place that a binding finds, outlined on three pages as different as can be. */
export function PlacePictures({ binding, fit, onClose }: Props) {
  const site = useSite();
  const tried = useQuery({ ...triedQuery(site.slug, [binding]), enabled: !fit });
  const found = fit ?? tried.data?.fits[0];
  return (
    <>
      <div className="row">
        <h2 className="grow">{targetName(binding.slot)}</h2>
        <Button variant="text" color="inherit" onClick={onClose}>
          Close
        </Button>
      </div>
      <p className="mono">{binding.selector}</p>
      {found && <p className="mute">{fitWords(found)}</p>}
      {found?.seen.map((path) => (
        <Picture key={path} path={path} binding={binding} />
      ))}
    </>
  );
}

function Picture({ path, binding }: { path: string; binding: Binding }) {
  const site = useSite();
  const picture = useQuery(placeQuery(site.slug, path, binding)).data;
  return (
    <figure className="place-picture">
      {picture ? (
        <Frame
          html={picture.html}
          title={`The place on ${path}`}
          width={1100}
          height={760}
          picked="outlined"
        />
      ) : (
        <div className="picture waiting" />
      )}
      <figcaption className="mono">{path}</figcaption>
    </figure>
  );
}
