import type { Findings, Verdict } from "../api/client";

/** What a stop is judged with on this device: as the day's pack brought it. */
export interface Known {
  pack: unknown;
  zone: string;
  lang: string;
  units: string;
}

interface Said {
  n: number;
  verdict?: string;
  refusal?: string;
  error?: string;
}

let worker: Worker | undefined;
let asked = 0;
const open = new Map<number, { take: (v: Verdict) => void; fail: (why: unknown) => void }>();

function hear({ data: { n, verdict, refusal, error } }: MessageEvent<Said>): void {
  const waits = open.get(n);
  open.delete(n);
  if (verdict) waits?.take(JSON.parse(verdict));
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
export function judgeHere(known: Known, findings: Findings, at: Date): Promise<Verdict> {
  readyCore();
  asked += 1;
  const n = asked;
  return new Promise((take, fail) => {
    open.set(n, { take, fail });
    worker?.postMessage({ n, question: JSON.stringify({ ...known, findings, at: at.toISOString() }) });
  });
}
