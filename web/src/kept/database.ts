import { type DBSchema, type IDBPDatabase, openDB } from "idb";

/** One thing that this device keeps for one person: a draft, the steps of a run, a picture. */
export interface Entry {
  /** Whose it is: nobody else sees it, and it is sent under their session alone. */
  who: string;
  kind: string;
  id: string;
  value: object;
}

type Key = [who: string, kind: string, id: string];

/** What the server said to one person's question, as of when. */
export interface Answer {
  who: string;
  ask: string;
  at: number;
  /** The contract that it was given under: an answer of another is not read. */
  contract: string;
  value: string;
}

export interface Schema extends DBSchema {
  kept: { key: Key; value: Entry };
  answers: { key: [who: string, ask: string]; value: Answer };
}

/** The device's store; a later version moves what an earlier one kept. */
const version = 1;

let base: Promise<IDBPDatabase<Schema>> | undefined;

/** The device's own database. Rejects where the browser gives none. */
export function database(): Promise<IDBPDatabase<Schema>> {
  base ??= openDB<Schema>("fairlap", version, {
    upgrade(db) {
      db.createObjectStore("kept", { keyPath: ["who", "kind", "id"] });
      db.createObjectStore("answers", { keyPath: ["who", "ask"] });
    },
    // A newer page of this app opens the store: this one lets go of it.
    blocking: (_now, _next, event) => (event.target as IDBDatabase).close(),
    terminated: () => {
      base = undefined;
    },
  });
  base.catch(() => {
    base = undefined;
  });
  return base;
}
