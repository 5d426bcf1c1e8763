import { useSyncExternalStore } from "react";
import { ticks } from "../parts/clock";
import { ours } from "./proof";

/** Whether the server answers; and where it does not, as of when the oldest is that is shown. */
interface Line {
  there: boolean;
  last: number;
}

/** Milliseconds between tries to reach the server while it does not answer. */
const again = 3000;

let line: Line = { there: true, last: ticks() };
let last = ticks();
let timer: ReturnType<typeof setInterval> | undefined;
const heard = new Set<() => void>();
const back = new Set<() => void>();

const reach = () =>
  fetch("/healthz", { cache: "no-store" }).then(
    (answer) => tellLine(answer.ok && ours(answer)),
    () => undefined,
  );

/** Told after each question: answered at all, or not; and then as of when what is shown instead is. */
export function tellLine(there: boolean, shown = last): void {
  const was = line;
  last = there ? ticks() : Math.min(last, shown);
  if (was.there === there && (there || was.last === last)) return;
  line = { there, last };
  if (was.there !== there) {
    clearInterval(timer);
    if (!there) timer = setInterval(reach, again);
  }
  for (const hear of heard) hear();
  if (there && !was.there) for (const hear of back) hear();
}
globalThis.addEventListener?.("online", () => !line.there && reach());

/** Hears that the server answers again. */
export const onLineBack = (hear: () => void): void => {
  back.add(hear);
};

const onLine = (hear: () => void) => {
  heard.add(hear);
  return () => heard.delete(hear);
};

/** The line, as the last question found it. */
export const lineNow = (): Line => line;
export const useLine = (): Line => useSyncExternalStore(onLine, lineNow);
