import type { Problem } from "../api/client";
import { proves } from "../api/proof";

/**
 * What a try came to. On record; later, because there is no line, the session ended, the server is in
 * trouble or something between answered in its place; or against it: refused, or not known there.
 */
export type Fate = "taken" | Later | "refused";
export type Later = "line" | "session" | "busy" | "between";

/** What of the server's refusals passes by itself. */
const passing: Record<number, Later> = { 401: "session", 408: "busy", 425: "busy", 429: "busy" };

/** An answer as the API's client gives it. */
export interface Answer<T = unknown> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** Judges a send by its status, and by the proof that the server itself answered this very send. */
export function fateOf({ response }: Answer, id: string): Fate {
  if (!proves(response, id)) return "between";
  if (response.ok) return "taken";
  return passing[response.status] ?? (response.status >= 500 ? "busy" : "refused");
}

/** The problem of a refusal; a body that could not be read has its status alone. */
export const problemOf = ({ error, response }: Answer): Problem =>
  typeof error === "object" && error !== null
    ? (error as Problem)
    : { type: "about:blank", status: response.status, detail: response.statusText };
