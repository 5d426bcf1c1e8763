import { createContext, useContext } from "react";

/** What opens over a page, from wherever it is asked for. */
export type Over = "find" | "keys" | "more";

export const OverContext = createContext<(what: Over | null) => void>(() => undefined);

/** Opens something over the page; null closes it. */
export const useOver = () => useContext(OverContext);
