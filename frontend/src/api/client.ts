import createClient, { type Middleware } from "openapi-fetch";
import type { components, paths } from "./schema";

export type Shapes = components["schemas"];

/** One thing that is wrong with a request: where, what, and what to write instead. */
export type Problem = Shapes["SingleProblem"];

/** An error that the server stated as ApiError Details (RFC 9457), or that the network made. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    title: string,
    readonly detail: string,
    readonly problems: Problem[] = [],
    readonly body: Record<string, unknown> = {},
  ) {
    super(title);
  }

  /** What is wrong with one parameter of the address. */
  of(parameter: string): Problem | undefined {
    return this.problems.find((problem) => problem.parameter === parameter);
  }

  /** What is wrong at one place of the request, such as `/name`. */
  at(pointer: string): Problem | undefined {
    return this.problems.find((problem) => problem.pointer === pointer);
  }
}

/** What is wrong with each field of a form, by the name that the API gives it; what is about none of them as `all`. */
export function wrongFields(error: unknown, fields: readonly string[]): Record<string, string> {
  const told = error instanceof ApiError ? error : null;
  const found = Object.fromEntries(fields.map((field) => [field, told?.at(`/${field}`)?.message ?? ""]));
  if (Object.values(found).some(Boolean)) return found;
  return { all: [(error as Error).message, told?.detail].filter(Boolean).join(". ") };
}

let csrfCookie = "";

/** Name the cookie that holds the token against forged requests; the session tells it. */
export function nameCsrfCookie(name: string) {
  csrfCookie = name;
}

function cookie(name: string): string {
  const found = document.cookie.split("; ").find((part) => part.startsWith(`${name}=`));
  return found ? decodeURIComponent(found.slice(name.length + 1)) : "";
}

async function readError(response: Response): Promise<ApiError> {
  const body = await response.json().catch(() => ({}));
  const title = body.title ?? `The server answered ${response.status}`;
  return new ApiError(response.status, body.code ?? "", title, body.detail ?? "", body.problems ?? [], body);
}

const offline = () =>
  new ApiError(0, "offline", "The server does not answer", "Check that Navrel is running, then try again.");

const middleware: Middleware = {
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", cookie(csrfCookie));
    return request;
  },
  async onResponse({ response }) {
    if (!response.ok) throw await readError(response);
    return response;
  },
  onError({ error }) {
    return error instanceof DOMException && error.name === "AbortError" ? error : offline();
  },
};

export const api = createClient<paths>({ baseUrl: "/" });
api.use(middleware);

/** The data of an answer; the middleware has thrown for every other case. */
export async function answer<T>(call: Promise<{ data?: T }>): Promise<T> {
  return (await call).data as T;
}

interface Sending {
  signal?: AbortSignal;
  /** Told which part of it is on its way. */
  onSent?: (part: number) => void;
}

/** Send files, which the generated client does not do, and which tells how much has been sent. */
export function sendFiles<T>(path: string, form: FormData, { signal, onSent }: Sending = {}): Promise<T> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    const stop = () => request.abort();
    request.open("POST", path);
    request.setRequestHeader("X-CSRFToken", cookie(csrfCookie));
    request.upload.onprogress = ({ loaded, total }) => onSent?.(loaded / total);
    request.onload = () => {
      const response = new Response(request.responseText || null, { status: request.status });
      if (response.ok) resolve(response.json());
      else readError(response).then(reject);
    };
    request.onerror = () => reject(offline());
    request.onabort = () => reject(new DOMException("Stopped", "AbortError"));
    request.onloadend = () => signal?.removeEventListener("abort", stop);
    signal?.addEventListener("abort", stop);
    if (signal?.aborted) reject(new DOMException("Stopped", "AbortError"));
    else request.send(form);
  });
}
