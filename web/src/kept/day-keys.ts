import { hashKey } from "@tanstack/react-query";

// The questions of the day's pages by the names that the query client gives them.
const asked = (path: string, params: object) => hashKey(["get", path, { params }]);
const of = (path: string) => (id: string) => asked(path, { path: { id } });

export const stopKey = of("/api/v1/stops/{id}");
export const poolKey = of("/api/v1/pools/{id}");
export const aboutKey = of("/api/v1/pools/{id}/about");
export const dueKey = of("/api/v1/pools/{id}/due");
export const inspectionsKey = of("/api/v1/pools/{id}/inspections");
export const inspectionKey = of("/api/v1/inspections/{id}");
export const runKey = of("/api/v1/runs/{id}");
export const workKey = (pool: string, stop?: string) =>
  asked("/api/v1/pools/{id}/work", { path: { id: pool }, query: { stop } });

/** What the stop shows of the log. */
export const beforeKey = (pool: string) =>
  asked("/api/v1/pools/{id}/log", { path: { id: pool }, query: { kind: ["visit", "run", "part"] } });

/** What a stop or a pool is known by, for the core. */
export const knownKey = (id: string) => `known ${id}`;

/** What a pool's next inspection is begun with. */
export const blankKey = (pool: string) => `blank ${pool}`;

/** The mark of the day that the device has. */
export const dayKey = "day";
