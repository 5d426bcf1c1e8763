import { mayPass } from "../../api/client";
import type { Known, RunHere } from "../../core/here";
import { knownOf } from "../../kept/day";
import { runsKept } from "../../kept/runs-here";

/**
 * What the server says of a stop; this device's own answer where steps of its runs are here alone, or where there is no
 * line and the device has the day.
 */
export async function orHere<T>(
  who: string,
  stop: string,
  server: () => T | Promise<T>,
  here: (known: Known, runs: RunHere[]) => Promise<T>,
): Promise<T> {
  const runs = runsKept(who, stop);
  if (runs.length > 0) {
    const known = await knownOf(stop);
    if (known) return here(known, runs);
  }
  try {
    return await server();
  } catch (error) {
    const known = mayPass(error) ? await knownOf(stop) : undefined;
    if (!known) throw error;
    return here(known, runs);
  }
}
