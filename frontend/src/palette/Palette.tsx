import Dialog from "@mui/material/Dialog";
import { lazy, Suspense, useEffect, useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { useCommand } from "../parts/commands";
import { useNewRule } from "../rules/useNewRule";
import { KEYS } from "./keys";
import "./palette.css";

const fetchThings = () => import("./ThingList");
const Things = lazy(fetchThings);
/** What finds things is fetched once the view stands, in milliseconds: a hand types on at once when it is opened. */
const FETCHED_AFTER = 1000;

/** The palette on Ctrl-K, and the list of keys on `?`. */
export function Palette() {
  const [open, setOpen] = useState<"palette" | "keys" | null>(null);
  const [text, setText] = useState("");
  const close = () => setOpen(null);
  const openOrClose = () => {
    if (open === "palette") return close();
    setText("");
    setOpen("palette");
  };
  useHotkeys("mod+k", openOrClose, {
    preventDefault: true,
    enableOnFormTags: true,
    enableOnContentEditable: true,
  });
  // What is typed before the field stands is for the field.
  useEffect(() => {
    if (open !== "palette") return;
    const hear = (event: KeyboardEvent) => {
      const inField = event.target instanceof Element && event.target.closest(".palette input");
      if (inField || event.key.length > 1 || event.ctrlKey || event.metaKey || event.altKey) return;
      event.preventDefault();
      event.stopPropagation();
      setText((typed) => typed + event.key);
    };
    window.addEventListener("keydown", hear, true);
    return () => window.removeEventListener("keydown", hear, true);
  }, [open]);
  useCommand("Show every key", "?", () => setOpen("keys"));
  const newRule = useNewRule();
  useCommand("New rule", "N", () => newRule({ name: "", condition: { include: "" }, actions: [] }));
  useEffect(() => {
    const timer = setTimeout(fetchThings, FETCHED_AFTER);
    return () => clearTimeout(timer);
  }, []);
  return (
    <>
      <Dialog
        open={open === "palette"}
        onClose={close}
        slotProps={{ paper: { className: "palette", "aria-label": "Go to" } }}
      >
        <Suspense>
          <Things text={text} onText={setText} onDone={close} />
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
