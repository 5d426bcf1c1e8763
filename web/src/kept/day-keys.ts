import { hashKey } from "@tanstack/react-query";

// The questions of a stop's page by the names that the query client gives them.
const asked = (path: string, params: object) => hashKey(["get", path, { params }]);

export const stopKey = (id: string) => asked("/api/v1/stops/{id}", { path: { id } });
export const workKey = (pool: string, stop: string) =>
  asked("/api/v1/pools/{id}/work", { path: { id: pool }, query: { stop } });

/** What a stop is judged with. */
export const knownKey = (stop: string) => `known ${stop}`;

/** The mark of the day that the device has. */
export const dayKey = "day";
