import { answer, api, type Shapes, sendFiles } from "../api/client";
import { count, figure } from "../parts/words";

/** What one request carries at the most: well below what the server takes. */
const BATCH_FILES = 100;
const BATCH_BYTES = 12 * 1024 * 1024;
/** The largest file that travels this way. */
const MAX_FILE = 24 * 1024 * 1024;
/** Hidden files and folders are none of a site's; what is well known is (RFC 8615), and a page without a name. */
const HIDDEN = /(^|\/)\.(?!well-known(\/|$)|(x?html?)$)/;

/** How far an intake has come: a part of the whole, and that in words. */
export interface Progress {
  part: number;
  told: string;
}

/** What a site is taken in from: a folder, one file that holds a whole source, its address, or a crawl that goes on. */
export type Source = Named[] | File | string | Shapes["IntakeInfo"];

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

const isTooLarge = ({ file }: Named) => file.size > MAX_FILE;

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
    await sendFiles(to, form, { signal });
    sent += batch.length;
    onProgress({ part: sent / files.length, told: `${sent} of ${count(files.length, "file")}` });
  }
}

/** Send one file that holds a whole source. */
async function sendSource(
  to: string,
  file: File,
  onProgress: (progress: Progress) => void,
  signal: AbortSignal,
) {
  const form = new FormData();
  form.append("file", file);
  const onSent = (part: number) =>
    onProgress({
      part,
      told: part < 1 ? `${inMegabytes(file.size * part)} of ${inMegabytes(file.size)} MB` : "Reading it …",
    });
  await sendFiles(to, form, { signal, onSent });
}

const inMegabytes = (bytes: number) => (bytes / 2 ** 20).toFixed(1);

/** How far a crawl has come. */
export function crawlProgress({ asked, waiting }: Shapes["IntakeInfo"]): Progress {
  const told = `${count(asked, "address", "addresses")} asked, ${figure(waiting)} to go`;
  return { part: asked / Math.max(1, asked + waiting), told };
}

/** Have the server ask the site, turn by turn, until nothing waits. */
async function crawl(
  site: string,
  intake: Shapes["IntakeInfo"],
  onProgress: (progress: Progress) => void,
  signal: AbortSignal,
) {
  const params = { path: { site, number: intake.id } };
  let found = intake;
  while (found.waiting) {
    onProgress(crawlProgress(found));
    found = await answer(api.POST("/api/sites/{site}/intakes/{number}/asked", { params, signal }));
  }
}

/** Give an intake up; the site stays as it was. */
export const giveUp = (site: string, number: number) =>
  api.DELETE("/api/sites/{site}/intakes/{number}", { params: { path: { site, number } } });

/**
 * Take pages in from the browser. What would come of it is looked at first, where that is asked for. Stopped by the
 * signal, or not wanted, it leaves the site as it was; what is not wanted has no report. A crawl that is stopped is
 * kept, to go on.
 */
export async function takeIn(
  site: string,
  source: Source,
  onProgress: (progress: Progress) => void,
  signal: AbortSignal,
  isWanted?: (look: Shapes["WeighedIntake"]) => Promise<boolean>,
): Promise<Shapes["IntakeReport"] | null> {
  const isFiles = Array.isArray(source) || source instanceof File;
  const body = { source: typeof source === "string" ? source : "" };
  const intake =
    isFiles || typeof source === "string"
      ? await answer(api.POST("/api/sites/{site}/intakes", { params: { path: { site } }, body }))
      : source;
  const params = { path: { site, number: intake.id } };
  const to = `/api/sites/${site}/intakes/${intake.id}`;
  try {
    if (source instanceof File) await sendSource(`${to}/source`, source, onProgress, signal);
    else if (Array.isArray(source)) await sendBatches(to, source, onProgress, signal);
    else await crawl(site, intake, onProgress, signal);
    signal.throwIfAborted();
    onProgress({ part: 1, told: "Looking at what comes of it …" });
    if (isWanted) {
      const look = await answer(api.GET("/api/sites/{site}/intakes/{number}/look", { params, signal }));
      if (!(await isWanted(look))) {
        await giveUp(site, intake.id);
        return null;
      }
    }
    return await answer(api.POST("/api/sites/{site}/intakes/{number}/finish", { params }));
  } catch (error) {
    if (isFiles) await giveUp(site, intake.id).catch(() => undefined);
    throw error;
  }
}
