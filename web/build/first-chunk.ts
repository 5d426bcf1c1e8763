import { fileURLToPath } from "node:url";
import type { Rolldown } from "vite";

const entry = fileURLToPath(new URL("../src/main.tsx", import.meta.url));

/**
 * All that a page begins with in one file: a slow line pays for each request more than for a
 * kilobyte, and what is asked for later finds these here.
 */
export const firstChunk: Rolldown.CodeSplittingGroup = {
  debugName: "first",
  name: (id, graph) => (firstOf(graph).has(id) ? "first" : null),
};

let known: Set<string> | undefined;

/** The modules that the entry imports, and those that these import, as long as none waits. */
function firstOf(graph: Rolldown.ChunkingContext): Set<string> {
  if (known) return known;
  known = new Set();
  const start = (id: string): void => {
    if (known?.has(id)) return;
    known?.add(id);
    for (const to of graph.getModuleInfo(id)?.importedIds ?? []) start(to);
  };
  start(entry);
  return known;
}
