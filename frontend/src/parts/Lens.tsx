import Button from "@mui/material/Button";
import Popover from "@mui/material/Popover";
import { useRef, useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { DEVICES, type LensState, readLens, visitorName, writeLens } from "./lens";
import { useAddress, useLens, useSite } from "./site";
import { when } from "./words";

const SIGNED = [
  [false, "Signed out"],
  [true, "Signed in"],
] as const;

/** The eyes through which the site is seen. `L` opens it. */
export function Lens() {
  const { visitor, at } = useLens();
  const lens = readLens(visitor);
  const { set } = useAddress();
  const anchor = useRef<HTMLDivElement>(null);
  const [open, setOpen] = useState(false);
  useHotkeys("l", () => setOpen(true), { useKey: true });
  const change = (changes: Partial<LensState>) => set({ visitor: writeLens({ ...lens, ...changes }) });
  return (
    <>
      <div className="seg" ref={anchor}>
        <span className="on">Seen by</span>
        <button
          type="button"
          aria-haspopup="dialog"
          onClick={() => setOpen(true)}
          title="Change the visitor and the moment (L)"
        >
          {visitorName(lens)}
        </button>
        <button type="button" aria-haspopup="dialog" onClick={() => setOpen(true)}>
          {lens.device.charAt(0).toUpperCase() + lens.device.slice(1)}
        </button>
        {at && (
          <button type="button" aria-haspopup="dialog" onClick={() => setOpen(true)}>
            {when(at)}
          </button>
        )}
      </div>
      <Popover
        open={open}
        anchorEl={anchor.current}
        onClose={() => setOpen(false)}
        anchorOrigin={{ vertical: "bottom", horizontal: "right" }}
        transformOrigin={{ vertical: "top", horizontal: "right" }}
      >
        <div className="popover" role="dialog" aria-label="The lens">
          <LensForm lens={lens} change={change} />
          <div className="row" style={{ marginTop: 10 }}>
            <label htmlFor="lens-moment">Moment</label>
            <input
              id="lens-moment"
              className="input"
              style={{ width: 210 }}
              type="datetime-local"
              value={at}
              onChange={(event) => set({ at: event.target.value })}
            />
            <Button variant="text" disabled={!at} onClick={() => set({ at: "" })}>
              Now
            </Button>
          </div>
          <p className="mute">{at ? "In the time zone of the site." : "Now. Set a moment to see another."}</p>
        </div>
      </Popover>
    </>
  );
}

function LensForm({ lens, change }: { lens: LensState; change: (changes: Partial<LensState>) => void }) {
  const site = useSite();
  const toggleRole = (role: string) =>
    change({
      signedIn: true,
      roles: lens.roles.includes(role) ? lens.roles.filter((known) => known !== role) : [...lens.roles, role],
    });
  return (
    <>
      <p className="mute">The site is shown as this visitor sees it.</p>
      <div className="row" style={{ marginTop: 10 }}>
        <fieldset className="seg" aria-label="Sign-in" style={{ padding: 0, margin: 0 }}>
          {SIGNED.map(([signedIn, name]) => (
            <button
              type="button"
              key={name}
              aria-pressed={lens.signedIn === signedIn}
              onClick={() => change({ signedIn })}
            >
              {name}
            </button>
          ))}
        </fieldset>
        <fieldset className="seg" aria-label="Device" style={{ padding: 0, margin: 0 }}>
          {DEVICES.map((device) => (
            <button
              type="button"
              key={device}
              aria-pressed={lens.device === device}
              onClick={() => change({ device })}
            >
              {device}
            </button>
          ))}
        </fieldset>
      </div>
      <div className="row" style={{ marginTop: 10 }}>
        {site.roles.map((role) => (
          <label key={role} className="row">
            <input
              type="checkbox"
              checked={lens.signedIn && lens.roles.includes(role)}
              onChange={() => toggleRole(role)}
            />
            {role}
          </label>
        ))}
      </div>
    </>
  );
}
