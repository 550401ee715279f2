import type { Shapes } from "../api/client";
import { count, figure } from "../parts/words";

/** What taking pages in brought, or would bring. */
export function IntakeReport({ report }: { report: Shapes["IntakeReport"] }) {
  return (
    <div className="note-box" role="status">
      <b>{count(report.pages, "page")}:</b> {report.added} added, {report.updated} updated,{" "}
      {report.unchanged ?? 0} as they were, {report.returned} back again, {report.gone} gone.
      {report.assets > 0 && ` ${count(report.assets, "other file")} with them.`}
      {report.aliases > 0 &&
        ` ${count(report.aliases, "address leads", "addresses lead")} on to where a page is now.`}
      {report.corrected > 0 &&
        ` ${count(report.corrected, "page keeps", "pages keep")} facts that were corrected by hand.`}
      {!!report.dropped?.length && (
        <p style={{ marginTop: 8 }}>
          Elements that texts do not keep, as they could run, reach out, or are of no standard:{" "}
          {report.dropped.map((one) => `${one.element} ${figure(one.count)}`).join(", ")}.
        </p>
      )}
      <Notes
        title="New"
        what="page"
        total={report.added + report.returned}
        notes={report.added_pages ?? []}
      />
      <Notes title="Different" what="page" total={report.updated} notes={report.updated_pages ?? []} />
      <Notes title="Gone" what="page" total={report.gone} notes={report.gone_pages ?? []} />
      <Notes
        title="Moved, with all that names them"
        what="page"
        total={report.moved_count ?? 0}
        notes={report.moved ?? []}
      />
      <Notes title="Skipped" total={report.skipped_count} notes={report.skipped} />
      <Notes title="Read with a remark" total={report.remark_count} notes={report.remarks} />
    </div>
  );
}

/** So many are told without a click. */
const FEW = 5;

interface NotesProps {
  title: string;
  what?: string;
  total: number;
  notes: Shapes["FileNote"][];
}

/** What is told of some pages or files: a few at once, more behind their number. */
function Notes({ title, what = "file", total, notes }: NotesProps) {
  if (!notes.length) return null;
  return (
    <details open={total <= FEW} style={{ marginTop: 8 }}>
      <summary>
        <b>{title}:</b> {count(total, what)}
      </summary>
      <ul className="list">
        {notes.map((note) => (
          <li key={note.file}>
            <span className="mono">{note.file}</span> <span className="mute">{note.reason}</span>
          </li>
        ))}
      </ul>
      {total > notes.length && <p className="mute">and {total - notes.length} more</p>}
    </details>
  );
}
