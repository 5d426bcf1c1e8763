import { database, type Entry } from "./database";

/** All that is kept, in hand: what is typed is shown at once, and written behind. */
const inHand = new Map<string, Entry>();
const nameOf = (who: string, kind: string, id: string) => `${who}|${kind}|${id}`;

const heard = new Set<() => void>();
const tell = () => {
  for (const one of heard) one();
};

const heardElsewhere = new Set<() => void>();

/** Hears that another tab let go of something: it is on record, or was taken back. */
export function onGoneElsewhere(hear: () => void): () => void {
  heardElsewhere.add(hear);
  return () => heardElsewhere.delete(hear);
}

/** Tells the other tabs of this device, which have it in hand at once. */
const tabs = new BroadcastChannel("fairlap.kept");
tabs.onmessage = ({ data: { gone, entry } }: MessageEvent<{ gone: boolean; entry: Entry }>) => {
  const name = nameOf(entry.who, entry.kind, entry.id);
  if (gone) inHand.delete(name);
  else inHand.set(name, entry);
  tell();
  if (gone) for (const one of heardElsewhere) one();
};

let keeping = true;

/** Whether what was written last is kept: a browser may give no store, or no room in it. */
export const isKeeping = (): boolean => keeping;

/** Writes behind what is in hand; says whether the device has it now. */
async function write(entry: Entry, gone: boolean): Promise<boolean> {
  const was = keeping;
  try {
    const tx = (await database()).transaction("kept", "readwrite", { durability: "relaxed" });
    if (gone) tx.store.delete([entry.who, entry.kind, entry.id]);
    else tx.store.put(entry);
    tx.commit(); // not a moment later: the page may go
    await tx.done;
    keeping = true;
  } catch {
    keeping = false;
  }
  if (!keeping || !was) tell();
  return keeping;
}

/** Keeps a value, in place of what stood; quietly where what is shown is no other for it. */
export function keep(who: string, kind: string, id: string, value: object, quietly = false): Promise<boolean> {
  const entry = { who, kind, id, value };
  inHand.set(nameOf(who, kind, id), entry);
  tabs.postMessage({ gone: false, entry });
  if (!quietly) tell();
  return write(entry, false);
}

/** Keeps it no longer. */
export function forget(who: string, kind: string, id: string): void {
  const name = nameOf(who, kind, id);
  const entry = inHand.get(name);
  if (!entry) return;
  inHand.delete(name);
  tabs.postMessage({ gone: true, entry: { ...entry, value: {} } });
  tell();
  write(entry, true);
}

/** What is kept of one thing. */
export const keptOf = <T extends object>(who: string, kind: string, id: string): T | undefined =>
  inHand.get(nameOf(who, kind, id))?.value as T | undefined;

/** Everything that is kept, of everybody, in a steady order. */
export const allKept = (): Entry[] => [...inHand].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, entry]) => entry);

/** Hears of each change, in any tab; gives the way to stop. */
export function onKept(hear: () => void): () => void {
  heard.add(hear);
  return () => heard.delete(hear);
}

/** What earlier pages kept as text, by the names that they gave it. */
const old = /^fairlap\.(draft|run|inspection|pad\.new|pad|walk|note|run-read)\.(?:([0-9a-f-]{36})\.)?(.+)$/;
const kinds: Record<string, string> = { draft: "visit", "pad.new": "new-pad" };

/** Takes over what an earlier page kept as text; whose it is may be told by nobody yet. */
function takeOver(): void {
  for (const name of Object.keys(localStorage)) {
    const [, word, who = "", id] = old.exec(name) ?? [];
    if (!word) continue;
    // Of a run's reading the middle is the run, not a person.
    const mine = word === "run-read" ? { who: "", id: `${who}.${id}` } : { who, id };
    const kind = kinds[word] ?? word;
    const gone = () => localStorage.removeItem(name);
    try {
      const value = JSON.parse(localStorage.getItem(name) ?? "{}");
      // The text goes once the store has it; what stands there already is newer.
      if (keptOf(mine.who, kind, mine.id)) gone();
      else keep(mine.who, kind, mine.id, value).then((kept) => kept && gone());
    } catch {
      gone(); // not readable: there is nothing to keep
    }
  }
}

async function open(): Promise<void> {
  try {
    for (const entry of await (await database()).getAll("kept")) {
      inHand.set(nameOf(entry.who, entry.kind, entry.id), entry);
    }
  } catch {
    keeping = false;
  }
  try {
    takeOver();
  } catch {
    // The text store is shut: there is nothing in it.
  }
}

/** Stands when all that is kept is in hand. */
export const opened: Promise<void> = open();

/** What nobody's name stands on becomes that of whoever is here first. */
export function adopt(who: string): void {
  for (const entry of allKept()) {
    if (entry.who !== "") continue;
    if (!keptOf(who, entry.kind, entry.id)) keep(who, entry.kind, entry.id, entry.value);
    forget("", entry.kind, entry.id);
  }
}
