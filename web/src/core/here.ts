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
  /** The worker answers no more. */
  broken?: boolean;
}

/** A question that is not answered yet, and how often it has broken a worker. */
interface Open {
  message: { n: number; lang: string; question: string };
  take: (answer: never) => void;
  fail: (why: unknown) => void;
  broke: number;
}

let worker: Worker | undefined;
let asked = 0;
const open = new Map<number, Open>();

/** The core of this device could not be had, twice: it did not load, or it broke on this very question. */
export class NoCore extends Error {
  override name = "NoCore";
}

function hear({ data: { n, answer, refusal, error, broken } }: MessageEvent<Said>): void {
  if (broken) {
    restart(error, n);
    return;
  }
  const waits = open.get(n);
  open.delete(n);
  if (answer) waits?.take(JSON.parse(answer) as never);
  else waits?.fail(refusal ? JSON.parse(refusal) : new Error(error));
}

/** Lets a worker go that broke, and asks another what was open; a question that breaks two gets no answer. */
function restart(why: string | undefined, by?: number): void {
  worker?.terminate();
  worker = undefined;
  for (const [n, question] of open) {
    if (by === undefined || by === n) question.broke += 1;
    if (question.broke < 2) continue;
    open.delete(n);
    question.fail(new NoCore(why));
  }
  for (const { message } of open.values()) {
    readyCore();
    (worker as Worker | undefined)?.postMessage(message);
  }
}

/** Loads the core ahead: the first question then finds it ready. */
export function readyCore(): void {
  if (worker) return;
  worker = new Worker(new URL("./worker.ts", import.meta.url), { type: "module" });
  worker.onmessage = hear;
  worker.onerror = () => restart("the core did not load");
}

/** The server's own answer, worked out on this device. Throws the problem that it would refuse with. */
const ask = <T>({ facts: _, ...known }: Known, at: Date, question: object): Promise<T> =>
  put(known.lang, { ...known, ...question, at: at.toISOString() });

function put<T>(lang: string, question: object): Promise<T> {
  readyCore();
  asked += 1;
  const n = asked;
  const message = { n, lang, question: JSON.stringify(question) };
  return new Promise((take, fail) => {
    open.set(n, { message, take, fail, broke: 0 });
    worker?.postMessage(message);
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

/** The stop as a file: what is known of it, what was found, and when. */
export const fileHere = (known: Known, findings: Findings, runs: RunHere[], at: Date): Promise<object> =>
  ask(known, at, { findings, runs, file: true });

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
