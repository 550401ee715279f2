import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { answer, api, type Shapes } from "../api/client";
import { setUpQuery } from "../api/siteQueries";
import { ConflictBox } from "../parts/ConflictBox";
import { Chooser } from "../parts/controls";
import { useMessage } from "../parts/messages";
import { SaveBar } from "../parts/SaveBar";
import { usePieces, useSite } from "../parts/site";
import { useDraft } from "../parts/useDraft";
import { Weighed } from "../publish/Weighed";

type Facts = Shapes["SetUpTree"];

const TEXTS = [
  ["name", "Name", "As people call it"],
  [
    "base_url",
    "Address",
    "Where people find it, as https://example.org; it is served here under that host, too",
  ],
  ["language", "Language", "Of pages that state none, as a language tag: en, nb, pt-BR"],
  ["time_zone", "Time zone", "Of schedules, as Europe/Oslo"],
] as const;

const FORMS = [
  ["arranged", "Pages are put together from their content"],
  ["in-place", "Pages are drawn in their own HTML"],
] as const;

/** The facts as they are sent: a comma at the end of what is typed makes no role. */
const sent = (facts: Facts): Facts => ({
  ...facts,
  roles: facts.roles.map((one) => one.trim()).filter(Boolean),
});

async function send(site: string, facts: Facts, version: number) {
  const params = { path: { site }, header: { "If-Match": `"${version}"` } };
  const made = await answer(api.PUT("/api/sites/{site}/set-up", { params, body: sent(facts) }));
  return { id: "site", version: made.version };
}

/** What the site is: its name, address, language, zone, roles, default template. */
export function SetUp() {
  const site = useSite();
  const known = useQuery(setUpQuery(site.slug)).data;
  return known ? <SetUpForm known={known} /> : null;
}

function SetUpForm({ known }: { known: Shapes["SetUpInfo"] }) {
  const site = useSite();
  const tell = useMessage();
  const templates = usePieces().list.filter((piece) => piece.kind === "template");
  const editing = useDraft<Facts>({
    kind: "site",
    id: "site",
    saved: { tree: known.facts, version: known.version },
    blank: known.facts,
    same: (a, b) => JSON.stringify(a) === JSON.stringify(b),
    send: (facts, version) => send(site.slug, facts, version),
  });
  const saved = () => tell("Saved what the site is. It is in the draft, not live yet.");
  const set = (change: Partial<Facts>) => editing.edit((newest) => ({ ...newest, ...change }));
  const facts = editing.tree;
  return (
    <section aria-label="What the site is" className="settings">
      <h2>What the site is</h2>
      <ConflictBox editing={editing} what="site" onSaved={saved} />
      <div className="set-up">
        {TEXTS.map(([fact, label, help]) => (
          <Fact
            key={fact}
            label={label}
            help={help}
            value={facts[fact]}
            problem={editing.problemUnder(`/${fact}`)?.message}
            onChange={(text) => set({ [fact]: text })}
          />
        ))}
        <Fact
          label="Roles"
          help="That signed-in visitors can have, parted by commas"
          value={facts.roles.join(", ")}
          problem={editing.problemUnder("/roles")?.message}
          onChange={(text) => set({ roles: text.split(",").map((one) => one.trimStart()) })}
        />
        <Chooser
          label="Template where no rule uses another"
          value={facts.default_template}
          options={[
            ["", "No template where no rule uses one"],
            ...templates.map(({ slug, name }) => [slug, `${name} where no rule uses another`] as const),
          ]}
          onChange={(slug) => set({ default_template: slug })}
        />
        <Chooser
          label="How pages are drawn where no rule says"
          value={facts.form}
          options={FORMS}
          onChange={(form) => set({ form })}
        />
        {facts.form === "in-place" && (
          <Chooser
            label="Scripts of pages in their own HTML"
            value={facts.scripts ? "run" : "held"}
            options={[
              ["held", "Scripts of pages do not run"],
              ["run", "Scripts of pages run on the site"],
            ]}
            onChange={(scripts) => set({ scripts: scripts === "run" })}
          />
        )}
      </div>
      <SaveBar
        editing={editing}
        what="site"
        onSave={async () => (await editing.save()) && saved()}
        onDrop={editing.drop}
      >
        <Weighed editing={editing} to="set-up" body={sent(facts)} />
      </SaveBar>
    </section>
  );
}

interface FactProps {
  label: string;
  help: string;
  value: string;
  problem: string | undefined;
  onChange: (text: string) => void;
}

function Fact({ label, help, value, problem, onChange }: FactProps) {
  return (
    <TextField
      fullWidth
      label={label}
      value={value}
      error={problem !== undefined}
      helperText={problem ?? help}
      onChange={(event) => onChange(event.target.value)}
    />
  );
}
