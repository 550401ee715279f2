import { answer, api, type Shapes, sendFiles } from "../api/client";

const PAGE_FILE = /\.(html?|xhtml)$/i;
/** What one request carries at the most: well below what the server takes. */
const BATCH_FILES = 100;
const BATCH_BYTES = 12 * 1024 * 1024;
/** The largest page, and the largest of all other files that travel this way. */
const MAX_PAGE = 5 * 1024 * 1024;
const MAX_OTHER = 24 * 1024 * 1024;
/** Hidden files and folders are none of a site's; what is well known is (RFC 8615). */
const HIDDEN = /(^|\/)\.(?!well-known(\/|$))/;

export interface Progress {
  sent: number;
  total: number;
}

/** A file and its name below the chosen folder. */
interface Named {
  file: File;
  name: string;
}

/** The files of a chosen folder, pages and all others. */
export function siteFiles(files: Iterable<File>): Named[] {
  return [...files]
    .map((file) => ({ file, name: file.webkitRelativePath.split("/").slice(1).join("/") || file.name }))
    .filter(({ name }) => !HIDDEN.test(name));
}

const isTooLarge = ({ file, name }: Named) => file.size > (PAGE_FILE.test(name) ? MAX_PAGE : MAX_OTHER);

/** Files in batches; one that is too large travels by name alone, to be reported. */
export function* batches(files: Named[]): Generator<Named[]> {
  let batch: Named[] = [];
  let bytes = 0;
  for (const named of files) {
    const size = isTooLarge(named) ? 0 : named.file.size;
    if (batch.length === BATCH_FILES || (batch.length && bytes + size > BATCH_BYTES)) {
      yield batch;
      batch = [];
      bytes = 0;
    }
    batch.push(named);
    bytes += size;
  }
  if (batch.length) yield batch;
}

/** Send the files of a folder, batch by batch. */
async function sendBatches(
  to: string,
  files: Named[],
  onProgress: (progress: Progress) => void,
  signal: AbortSignal,
) {
  let sent = 0;
  for (const batch of batches(files)) {
    const form = new FormData();
    for (const named of batch) {
      if (isTooLarge(named)) {
        form.append("too_large", named.name);
      } else {
        form.append("files", named.file);
        form.append("names", named.name);
      }
    }
    await sendFiles(to, form, signal);
    sent += batch.length;
    onProgress({ sent, total: files.length });
  }
}

/**
 * Take pages in from the browser, out of a folder or one file that holds a whole source. What would come of it is looked at first, where that is asked for. Stopped by the
 * signal, or not wanted, it leaves the site as it was; what is not wanted has no report.
 */
export async function takeIn(
  site: string,
  source: Named[] | File,
  onProgress: (progress: Progress) => void,
  signal: AbortSignal,
  isWanted?: (look: Shapes["WeighedIntake"]) => Promise<boolean>,
): Promise<Shapes["IntakeReport"] | null> {
  const params = { path: { site } };
  const intake = await answer(api.POST("/api/sites/{site}/intakes", { params }));
  const numbered = { path: { site, number: intake.id } };
  try {
    const to = `/api/sites/${site}/intakes/${intake.id}`;
    if (source instanceof File) {
      const form = new FormData();
      form.append("file", source);
      await sendFiles(`${to}/source`, form, signal);
      onProgress({ sent: 1, total: 1 });
    } else {
      await sendBatches(to, source, onProgress, signal);
    }
    signal.throwIfAborted();
    if (isWanted) {
      const look = await answer(
        api.GET("/api/sites/{site}/intakes/{number}/look", { params: numbered, signal }),
      );
      if (!(await isWanted(look))) {
        await api.DELETE("/api/sites/{site}/intakes/{number}", { params: numbered });
        return null;
      }
    }
    return await answer(api.POST("/api/sites/{site}/intakes/{number}/finish", { params: numbered }));
  } catch (error) {
    await api.DELETE("/api/sites/{site}/intakes/{number}", { params: numbered }).catch(() => undefined);
    throw error;
  }
}
