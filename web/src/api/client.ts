import createClient, { type MaybeOptionalInit } from "openapi-fetch";

import type { paths } from "./schema";
import type { Complete, Problem } from "./types";

type Method = "get" | "post" | "put" | "delete";
type PathsWith<M extends Method> = {
  [P in keyof paths]: paths[P] extends { [K in M]: { responses: unknown } } ? P : never;
}[keyof paths];
type Init<P extends keyof paths, M extends Method> = MaybeOptionalInit<paths[P], M>;

/** What a path answers with, whole: every field of it is always there. */
type Reply<P extends keyof paths, M extends Method> = paths[P] extends { [K in M]: { responses: infer R } }
  ? {
      [S in keyof R & (200 | 201 | 202)]: R[S] extends { content: { "application/json": infer B } } ? Complete<B> : never;
    }[keyof R & (200 | 201 | 202)]
  : never;

type Call<M extends Method> = <P extends PathsWith<M>>(
  path: P,
  ...init: object extends Init<P, M> ? [Init<P, M>?] : [Init<P, M>]
) => Promise<Result<Reply<P, M>>>;

interface Api {
  GET: Call<"get">;
  POST: Call<"post">;
  PUT: Call<"put">;
  DELETE: Call<"delete">;
}

/** The one way the browser talks to the server, typed by the paths of its OpenAPI document. */
export const api = createClient<paths>({ baseUrl: window.location.origin }) as unknown as Api;

/** A refusal by the server, or no answer at all (status 0). */
export class ApiError extends Error {
  readonly problem: Problem;

  constructor(problem: Problem) {
    super(problem.detail);
    this.problem = problem;
  }

  /** It did not get through, and may if it is sent again: no answer, no database, a full disk, or signed out meanwhile. */
  get unreachable() {
    return [0, 401, 503, 507].includes(this.problem.status);
  }

  /** Message for one field, by the end of its pointer. */
  field(pointer: string): string | undefined {
    return this.problem.errors.find((one) => one.pointer.endsWith(pointer))?.message;
  }
}

const outside = new Set<() => void>();

/** Be told when the server does not know who is asking any more. Returns how to stop. */
export function whenSignedOut(listener: () => void): () => void {
  outside.add(listener);
  return () => outside.delete(listener);
}

/** Tell everybody who wants to know, where an answer says so. */
export function noticeSignedOut(status: number) {
  if (status === 401) for (const listener of outside) listener();
}

const SILENT: Problem = {
  type: "about:blank",
  title: "The server does not answer",
  status: 0,
  detail: "Nothing is lost; it is tried again when the server is back.",
  instance: "",
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
  noticeSignedOut(result.response.status);
  const problem = isProblem(result.error)
    ? result.error
    : { ...SILENT, status: result.response.status, title: result.response.statusText };
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

/** Every page of a list, one after the other. */
export async function askAll<T, P extends { next: string | null }>(
  page: (after: string | undefined) => Promise<P>,
  entries: (page: P) => T[],
): Promise<T[]> {
  const found: T[] = [];
  let after: string | undefined;
  do {
    const one: P = await page(after);
    found.push(...entries(one));
    after = one.next ?? undefined;
  } while (after);
  return found;
}
