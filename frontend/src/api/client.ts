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

const middleware: Middleware = {
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", cookie(csrfCookie));
    return request;
  },
  async onResponse({ response }) {
    if (!response.ok) throw await readError(response);
    return response;
  },
  onError() {
    return new ApiError(
      0,
      "offline",
      "The server does not answer",
      "Check that Navrel is running, then try again.",
    );
  },
};

export const api = createClient<paths>({ baseUrl: "/" });
api.use(middleware);

/** The data of an answer; the middleware has thrown for every other case. */
export async function answer<T>(call: Promise<{ data?: T }>): Promise<T> {
  return (await call).data as T;
}

/** Send files, which the generated client does not do. */
export async function sendFiles<T>(path: string, form: FormData, signal?: AbortSignal): Promise<T> {
  const response = await fetch(path, {
    method: "POST",
    body: form,
    signal,
    headers: { "X-CSRFToken": cookie(csrfCookie) },
  });
  if (!response.ok) throw await readError(response);
  return response.json();
}
