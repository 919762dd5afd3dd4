import createClient from "openapi-fetch";
import { answersAgain, heard } from "./alive";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];

/** A refusal of the server: a code for us, a sentence for the artist. */
export class Problem extends Error {
  readonly code: string;
  readonly status: number;
  readonly field: string | null;
  readonly since: string[];
  /** Where both changed the same, in words; null where that is not known. */
  readonly both: string[] | null;

  constructor(
    status: number,
    body:
      { code?: string; detail?: string; field?: string | null; since?: string[]; both?: string[] | null } | undefined,
  ) {
    super(body?.detail ?? "The application does not answer. Is it still running?");
    this.code = body?.code ?? "unreachable";
    this.status = status;
    this.field = body?.field ?? null;
    this.since = body?.since ?? [];
    this.both = body?.both ?? null;
  }
}

export function token(): string {
  return /(?:^|; )csrftoken=([^;]+)/.exec(document.cookie)?.[1] ?? "";
}

export const client = createClient<paths>({ baseUrl: "" });

client.use({
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", token());
    return request;
  },
  onResponse({ response }) {
    heard(response);
  },
});

/** Nobody answered: from now on it is asked until somebody does. */
export function unreachable(): Problem {
  void answersAgain();
  return new Problem(0, undefined);
}

/** Whether an answer may be there later: nobody answers, or the store is busy. */
export function mayComeLater(error: unknown): boolean {
  return error instanceof Problem && (error.status === 0 || error.status === 502 || error.status === 503);
}

/** Unwrap an answer or throw its problem as one sentence. */
export async function ask<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let answer;
  try {
    answer = await call;
  } catch (error) {
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    throw unreachable();
  }
  if (!answer.response.ok) throw new Problem(answer.response.status, answer.error as never);
  return answer.data as T;
}

export function sentence(error: unknown): string {
  return error instanceof Error ? error.message : "Something went wrong that has no name.";
}

/** Send a file as a form; openapi-fetch has no good story for uploads with progress or queries. */
export async function upload<T>(
  url: string,
  file: File,
  more: Record<string, File> = {},
  signal: AbortSignal | null = null,
): Promise<T> {
  const form = new FormData();
  form.append("file", file);
  for (const [name, other] of Object.entries(more)) form.append(name, other);
  return send(url, form, signal);
}

/** Send several files as one form, with what else is to be said of them. */
export async function uploadAll<T>(url: string, files: File[], more: Record<string, string> = {}): Promise<T> {
  const form = new FormData();
  for (const [name, value] of Object.entries(more)) form.append(name, value);
  for (const file of files) form.append("files", file);
  return send(url, form);
}

async function send<T>(url: string, form: FormData, signal: AbortSignal | null = null): Promise<T> {
  let response: Response;
  try {
    response = await fetch(url, { method: "POST", body: form, headers: { "X-CSRFToken": token() }, signal });
  } catch (error) {
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    throw unreachable();
  }
  heard(response);
  const body: unknown = await response.json().catch(() => undefined);
  if (!response.ok) throw new Problem(response.status, body as never);
  return body as T;
}
