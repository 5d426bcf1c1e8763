import type { IDBPDatabase } from "idb";
import type { Schema } from "./database";
import { sentFor } from "./sent";

/** How long an answer is good for without a line: then it is as if it had never come. */
export const goodFor = 14 * 86_400_000;

/** Lets go of the answers that are too old, and of what was logged and sent that long ago: it is on record. */
export async function dropOld(db: IDBPDatabase<Schema>, now: number): Promise<void> {
  const tx = db.transaction(["answers", "kept"], "readwrite");
  const old = now - goodFor;
  for (let at = await tx.objectStore("answers").openCursor(); at; at = await at.continue()) {
    if (at.value.at < old) await at.delete();
  }
  for (let at = await tx.objectStore("kept").openCursor(); at; at = await at.continue()) {
    const { kind, value } = at.value;
    const since = Date.parse((value as { at: string }).at);
    if ((kind === "saved" && since < old) || (kind === "sent" && since < now - sentFor)) await at.delete();
  }
  await tx.done;
}
