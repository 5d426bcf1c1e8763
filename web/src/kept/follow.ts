import type { RunEvent, RunView } from "../api/client";

export type ScriptStep = RunView["script"]["steps"][number];
export type StepOption = ScriptStep["options"][number];

/** The step that is next; undefined when the run is over. */
export const stepOf = (run: RunView): ScriptStep | undefined => run.script.steps.find((s) => s.id === run.at);

/** Where a step or an answer leads: its name for the lane, counted from one. */
export const placeOf = (run: RunView, id: string): number => run.script.steps.findIndex((s) => s.id === id) + 1;

/**
 * The run as it stands once the server has taken what waits on this device. The
 * script says of each step what state it is entered in, so nothing is computed here.
 */
export function follow(run: RunView, queue: RunEvent[]): RunView {
  let out = run;
  for (const e of queue) {
    if (e.act === "timer" && e.step && !out.timers[e.step]) {
      out = { ...out, timers: { ...out.timers, [e.step]: e.at } };
    }
    if (e.act === "note" && e.note) out = { ...out, notes: [...out.notes, e.note] };
    if (e.act === "leave") out = leaving(out, e.at);
    if (e.act === "go") out = going(out, e);
  }
  return out;
}

function going(run: RunView, e: RunEvent): RunView {
  const step = stepOf(run);
  const option = step?.options.find((o) => o.id === e.option);
  if (!step || !option || step.id !== e.step) return run;
  const { [step.id]: _, ...timers } = run.timers;
  const next = run.script.steps.find((s) => s.id === option.to);
  return {
    ...run,
    turn: run.turn + 1,
    at: option.to,
    state: next?.state ?? run.state,
    timers: option.to === step.id ? run.timers : timers,
    done: [...run.done, { step: step.id, says: step.says, answer: option.says, at: e.at, by: "", seconds: 0 }],
    ended: option.to ? null : e.at,
    why: option.to ? "" : option.ends,
    back: undefined,
  };
}

function leaving(run: RunView, at: string): RunView {
  const { [run.at]: _, ...timers } = run.timers;
  return { ...run, left: at, turn: run.turn + 1, state: stepOf(run)?.left ?? run.state, timers };
}
