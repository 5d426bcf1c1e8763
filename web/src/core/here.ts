import type {
  Findings,
  Inspection,
  PoolWork,
  PracticeAnswer,
  PracticeAsk,
  PracticeCaseRow,
  RunEvent,
  RunView,
  Verdict,
} from "../api/client";

/** What a pool is known by on this device: as the day's pack brought it. */
export interface Known {
  pack: unknown;
  facts: unknown;
  zone: string;
  lang: string;
  units: string;
}

interface Said {
  n: number;
  answer?: string;
  refusal?: string;
  error?: string;
}

let worker: Worker | undefined;
let asked = 0;
const open = new Map<number, { take: (answer: never) => void; fail: (why: unknown) => void }>();

function hear({ data: { n, answer, refusal, error } }: MessageEvent<Said>): void {
  const waits = open.get(n);
  open.delete(n);
  if (answer) waits?.take(JSON.parse(answer) as never);
  else waits?.fail(refusal ? JSON.parse(refusal) : new Error(error));
}

/** Loads the core ahead: the first question then finds it ready. */
export function readyCore(): void {
  if (worker) return;
  worker = new Worker(new URL("./worker.ts", import.meta.url), { type: "module" });
  worker.onmessage = hear;
  worker.onerror = () => {
    worker = undefined;
    for (const { fail } of open.values()) fail(new Error("the core did not load"));
    open.clear();
  };
}

/** The server's own answer, worked out on this device. Throws the problem that it would refuse with. */
const ask = <T>({ facts: _, ...known }: Known, at: Date, question: object): Promise<T> =>
  put(known.lang, { ...known, ...question, at: at.toISOString() });

function put<T>(lang: string, question: object): Promise<T> {
  readyCore();
  asked += 1;
  const n = asked;
  return new Promise((take, fail) => {
    open.set(n, { take, fail });
    worker?.postMessage({ n, lang, question: JSON.stringify(question) });
  });
}

/** The written practice cases, easiest first. */
export const casesHere = (reader: { lang: string; units: string }): Promise<PracticeCaseRow[]> =>
  put(reader.lang, { ...reader, cases: true });

/** A practice case as far as somebody worked it. */
export const practiseHere = (reader: { lang: string; units: string }, practice: PracticeAsk): Promise<PracticeAnswer> =>
  put(reader.lang, { ...reader, practice });

/** A run of the stop with the steps that are not on record yet. */
export interface RunHere {
  run: RunView;
  queue: RunEvent[];
}

/** What is read and seen, judged, with the runs of the stop that are still on this device. */
export const judgeHere = (known: Known, findings: Findings, runs: RunHere[], at: Date): Promise<Verdict> =>
  ask(known, at, { findings, runs });

/** What a run is begun with. */
export interface Beginning {
  id: string;
  procedure: string;
  stopId?: string;
  speed?: number;
  waterF?: number;
  reason?: string;
  short?: boolean;
  /** What was found at the stop so far: a run begins as the pad was left. */
  findings?: Findings;
}

/** A run written out and begun now. */
export const beginHere = (
  known: Known,
  run: Beginning & { poolId: string; by: string; hold?: PoolWork["hold"] },
  runs: RunHere[],
  at: Date,
): Promise<RunView> => ask(known, at, { begin: run, runs });

/** A run as it stands after what was done on this device. */
export const followHere = (known: Known, run: RunView, queue: RunEvent[], at: Date): Promise<RunView> =>
  ask(known, at, { follow: { run, queue } });

/** What an inspection finds. */
export const inspectHere = (
  known: Known,
  answers: Inspection["answers"],
  at: Date,
): Promise<Pick<Inspection, "findings"> & { mended: string[]; new: string[] }> =>
  ask(known, at, { inspect: { facts: known.facts, answers } });
