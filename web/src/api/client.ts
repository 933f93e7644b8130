import createClient from "openapi-fetch";

import type { paths } from "./schema";
import type { Problem } from "./types";

/** The one way the browser talks to the server. */
export const api = createClient<paths>({ baseUrl: window.location.origin });

/** A refusal by the server, or no answer at all (status 0). */
export class ApiError extends Error {
  readonly problem: Problem;

  constructor(problem: Problem) {
    super(problem.detail);
    this.problem = problem;
  }

  get unreachable() {
    return this.problem.status === 0 || this.problem.status === 503;
  }

  /** Message for one field, by the end of its pointer. */
  field(pointer: string): string | undefined {
    return this.problem.errors.find((one) => one.pointer.endsWith(pointer))?.message;
  }
}

const SILENT: Problem = {
  type: "about:blank",
  title: "The server does not answer",
  status: 0,
  detail: "Nothing is lost; it is tried again when the server is back.",
  errors: [],
};

interface Result<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

function isProblem(value: unknown): value is Problem {
  return typeof value === "object" && value !== null && "title" in value && "status" in value;
}

/** The data of an answer, or an ApiError. */
export async function ask<T>(request: Promise<Result<T>>): Promise<T> {
  let result: Result<T>;
  try {
    result = await request;
  } catch (cause) {
    if (cause instanceof DOMException && cause.name === "AbortError") throw cause;
    throw new ApiError(SILENT);
  }
  if (result.response.ok) return result.data as T;
  const problem = isProblem(result.error) ? result.error : { ...SILENT, status: result.response.status, title: result.response.statusText };
  throw new ApiError({ ...problem, errors: problem.errors ?? [] });
}

/** What a problem says, in one go: what each field wants, else the whole. */
export function wordsOf(problem: Problem): string {
  return problem.errors.length > 0 ? problem.errors.map((one) => one.message).join(" ") : problem.detail;
}

/** What to show of any thrown thing. */
export function problemOf(error: unknown): Problem {
  return error instanceof ApiError ? error.problem : { ...SILENT, title: "Something went wrong", detail: String(error) };
}
