import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { ApiError, answer, api, type Shapes } from "../api/client";
import { Chooser, LabelledField, Segments } from "../parts/controls";
import { Frame } from "../parts/Frame";
import { useMessage } from "../parts/messages";
import { useLinkTo, useRefresh, useSite } from "../parts/site";
import { count } from "../parts/words";
import "./pieces.css";

type FilePiece = Shapes["FilePiece"];
type LayoutTree = Shapes["LayoutTree"];
type How = Shapes["PieceChoice"]["how"];
type RuleHow = NonNullable<Shapes["TakeInRequest"]["rules"]>;
interface Choice {
  how: How;
  name: string;
}
interface Opened {
  name: string;
  file: LayoutTree;
  look: Shapes["FileLook"];
}

/** What is taken of a piece where nothing has been said: what is not here yet, nothing that clashes. */
const usual = (piece: FilePiece): Choice => ({ how: piece.clash ? "leave" : "add", name: piece.name });

/** Taking a layout file in: what is in it, drawn as it would look here, what clashes, what comes. Then one edit. */
export function TakeIn() {
  const site = useSite();
  const linkTo = useLinkTo();
  const navigate = useNavigate();
  const refresh = useRefresh();
  const tell = useMessage();
  const input = useRef<HTMLInputElement>(null);
  const [opened, setOpened] = useState<Opened | null>(null);
  const [problems, setProblems] = useState<string[]>([]);
  const [choices, setChoices] = useState<Record<string, Choice>>({});
  const [rules, setRules] = useState<RuleHow>("none");
  const [pages, setPages] = useState(false);
  const params = { path: { site: site.slug } };
  const refused = (error: unknown) =>
    setProblems(
      error instanceof ApiError
        ? error.problems.length
          ? error.problems.map((one) => `${one.pointer} ${one.message}`)
          : [error.message]
        : [String(error)],
    );
  const open = async (chosen: File | undefined) => {
    if (!chosen) return;
    setProblems([]);
    setOpened(null);
    try {
      const file = JSON.parse(await chosen.text()) as LayoutTree;
      const look = await answer(api.POST("/api/sites/{site}/layout-file/look", { params, body: { file } }));
      setOpened({ name: chosen.name, file, look });
      setChoices(Object.fromEntries(look.pieces.map((piece) => [piece.slug, usual(piece)])));
    } catch (error) {
      refused(error instanceof SyntaxError ? `${chosen.name} is not JSON: ${error.message}` : error);
    }
  };
  const taken = Object.values(choices).filter((one) => one.how !== "leave").length;
  const send = async () => {
    if (!opened) return;
    try {
      const made = await answer(
        api.POST("/api/sites/{site}/layout-file/take-in", {
          params,
          body: {
            file: opened.file,
            pieces: Object.entries(choices).map(([slug, choice]) => ({
              slug,
              how: choice.how,
              name: choice.how === "rename" ? choice.name : "",
            })),
            rules,
            pages,
          },
        }),
      );
      await refresh();
      tell(`Took in ${came(made)}. It is in the draft, not live yet.`);
      navigate(linkTo("pieces"));
    } catch (error) {
      refused(error);
    }
  };
  const what = [
    taken && count(taken, "piece"),
    rules !== "none" && opened && count(opened.look.rules.length, "rule"),
    pages && opened && count(opened.look.pages, "page"),
  ].filter(Boolean);
  return (
    <div className="column grow take-in">
      <div className="row">
        <Link to={linkTo("pieces")}>All pieces</Link>
        <h2>Take in a layout file</h2>
      </div>
      <p className="mute">
        Pieces, rules, menus, pictures or pages, as this or another site exported them. Nothing changes before
        you have seen what is in it.
      </p>
      <Button variant="outlined" onClick={() => input.current?.click()}>
        Choose a file …
      </Button>
      <input
        ref={input}
        hidden
        type="file"
        accept=".json,application/json"
        aria-label="Layout file"
        onChange={(event) => {
          open(event.target.files?.[0]);
          event.target.value = "";
        }}
      />
      {problems.length > 0 && (
        <div className="note-box" role="alert">
          <p>This cannot be taken in. Nothing was changed.</p>
          <ul>
            {problems.slice(0, 20).map((one) => (
              <li key={one}>{one}</li>
            ))}
          </ul>
        </div>
      )}
      {opened && (
        <>
          <h3>
            {opened.name} holds {held(opened.look)}
          </h3>
          <ul className="file-pieces" aria-label="Pieces in the file">
            {opened.look.pieces.map((piece) => (
              <PieceChoice
                key={piece.slug}
                piece={piece}
                choice={choices[piece.slug] ?? usual(piece)}
                onChange={(choice) => setChoices({ ...choices, [piece.slug]: choice })}
              />
            ))}
          </ul>
          {opened.look.rules.length > 0 && (
            <div className="row">
              <span>
                Its rules ({opened.look.rules.slice(0, 3).join(", ")}
                {opened.look.rules.length > 3 ? " …" : ""})
              </span>
              <Segments
                label="What becomes of its rules"
                value={rules}
                options={[
                  ["none", "stay out"] as const,
                  ["off", "come switched off"] as const,
                  ["as-written", "come as they are"] as const,
                ]}
                onChange={setRules}
              />
            </div>
          )}
          {opened.look.pages > 0 && (
            <FormControlLabel
              label={`Its ${count(opened.look.pages, "page")} too, ${opened.look.new_pages} of them new here`}
              control={<Checkbox checked={pages} onChange={(_, on) => setPages(on)} />}
            />
          )}
          <div className="row" style={{ marginTop: 10 }}>
            <Button variant="contained" disabled={what.length === 0} onClick={send}>
              {what.length ? `Take in ${what.join(", ")}` : "Nothing is chosen"}
            </Button>
          </div>
        </>
      )}
    </div>
  );
}

const came = (made: Shapes["TakenIn"]) =>
  [
    made.pieces && count(made.pieces, "piece"),
    made.rules && count(made.rules, "rule"),
    made.pages && count(made.pages, "page"),
  ]
    .filter(Boolean)
    .join(", ") || "nothing";

function held(look: Shapes["FileLook"]): string {
  const parts = [
    look.pieces.length && count(look.pieces.length, "piece"),
    look.rules.length && count(look.rules.length, "rule"),
    look.menus.length && count(look.menus.length, "menu"),
    look.files.length && count(look.files.length, "picture"),
    look.settings.length && count(look.settings.length, "setting"),
    look.pages && count(look.pages, "page"),
  ];
  return parts.filter(Boolean).join(", ") || "nothing";
}

interface PieceChoiceProps {
  piece: FilePiece;
  choice: Choice;
  onChange: (choice: Choice) => void;
}

function PieceChoice({ piece, choice, onChange }: PieceChoiceProps) {
  const ways: (readonly [How, string])[] = piece.clash
    ? [
        ["leave", "leave it out"],
        ["replace", `replace ${piece.clash_name}`],
        ["rename", "take it under another name"],
      ]
    : [
        ["add", "take it"],
        ["rename", "take it under another name"],
        ["leave", "leave it out"],
      ];
  const wide = ["header", "footer", "title", "template"].includes(piece.kind);
  return (
    <li className="file-piece" aria-label={piece.name}>
      <div inert className="file-picture">
        <Frame html={piece.html} title={piece.name} width={wide ? 1180 : 352} height={wide ? 240 : 200} />
      </div>
      <div>
        <b>{piece.name}</b> <span className="mute">{piece.kind}</span>
        <p className="mute">
          {piece.same
            ? "Here already, and the same."
            : piece.clash
              ? `Clashes with ${piece.clash_name}, which is here.`
              : "Not here yet."}
        </p>
        <div className="row">
          <Chooser
            label={`What becomes of ${piece.name}`}
            value={choice.how}
            options={ways}
            sx={{ minWidth: 220 }}
            onChange={(how) => onChange({ ...choice, how })}
          />
          {choice.how === "rename" && (
            <LabelledField
              label={`New name of ${piece.name}`}
              value={choice.name}
              onChange={(name) => onChange({ ...choice, name })}
            />
          )}
        </div>
      </div>
    </li>
  );
}
