import Dialog from "@mui/material/Dialog";
import { lazy, Suspense, useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { useCommand } from "../parts/commands";
import { useNewRule } from "../rules/newRuleDraft";
import { KEYS } from "./keys";
import "./palette.css";

// What finds things is fetched when it is first opened.
const Things = lazy(() => import("./ThingList"));

/** The palette on Ctrl-K, and the list of keys on `?`. */
export function Palette() {
  const [open, setOpen] = useState<"palette" | "keys" | null>(null);
  useHotkeys("mod+k", () => setOpen("palette"), { preventDefault: true, enableOnFormTags: true });
  useCommand("Show every key", "?", () => setOpen("keys"));
  const newRule = useNewRule();
  useCommand("New rule", "N", () => newRule({ name: "", condition: { include: "" }, actions: [] }));
  const close = () => setOpen(null);
  return (
    <>
      <Dialog
        open={open === "palette"}
        onClose={close}
        slotProps={{ paper: { className: "palette", "aria-label": "Go to" } }}
      >
        <Suspense>
          <Things onDone={close} />
        </Suspense>
      </Dialog>
      <Dialog open={open === "keys"} onClose={close} slotProps={{ paper: { "aria-label": "Keys" } }}>
        <div className="keys">
          {KEYS.map(({ where, keys }) => (
            <section key={where}>
              <h2>{where}</h2>
              <dl>
                {keys.map(([key, does]) => (
                  <div key={key}>
                    <dt>
                      <kbd>{key}</kbd>
                    </dt>
                    <dd>{does}</dd>
                  </div>
                ))}
              </dl>
            </section>
          ))}
        </div>
      </Dialog>
    </>
  );
}
