import { http } from "../api/client";
import type { components } from "../api/schema";
import type { Changed } from "../api/use-changed";
import type { Answer } from "./fate";
import type { KeptChange } from "./waiting";

type Schemas = components["schemas"];
interface Kind<B> {
  put: (pool: string, body: B, headers: Record<string, string>) => Promise<Answer>;
  /** What of the server's answers it makes old. */
  changed: Changed;
}

const kind = <B>(changed: Changed, put: Kind<B>["put"]): Kind<B> => ({ changed, put });
const of = (pool: string) => ({ params: { path: { id: pool } } });

/** What may be done to a pool in one go, and how each is told to the server. All are made once, by their ids. */
export const changes = {
  part: kind<Schemas["PartChange"]>("pool", (pool, body, headers) =>
    http.POST("/api/v1/pools/{id}/parts", { ...of(pool), body, headers }),
  ),
  note: kind<{ id: string; text: string }>("beside", (pool, body, headers) =>
    http.POST("/api/v1/pools/{id}/notes", { ...of(pool), body, headers }),
  ),
  mark: kind<Schemas["DueMark"]>("route", (pool, body, headers) =>
    http.POST("/api/v1/pools/{id}/due-marks", { ...of(pool), body, headers }),
  ),
  move: kind<Schemas["VisitMove"]>("route", (pool, body, headers) =>
    http.POST("/api/v1/pools/{id}/visit-moves", { ...of(pool), body, headers }),
  ),
};

export type ChangeKind = keyof typeof changes;
export type ChangeBody<K extends ChangeKind> = (typeof changes)[K] extends Kind<infer B> ? B & { id: string } : never;

/** Tells the server of a change. */
export const putChange = (change: KeptChange, headers: Record<string, string>): Promise<Answer> =>
  (changes[change.what].put as Kind<object>["put"])(change.pool, change.body, headers);
