import { Button } from "antd";
import { useState } from "react";
import type { Findings, PoolWork, ProcedureBrief } from "../api/client";
import { overLater } from "./later";

const StartRunSheet = overLater(() => import("./start-run-sheet"));

export interface Start {
  pool: string;
  stop?: string;
  /** The speed read at the bench, for the reading after. */
  rpm?: number | null;
  work: PoolWork;
  procedure: ProcedureBrief;
  /** What was found at the stop so far: the run begins as the pad was left. */
  findings?: Findings;
}

/** A button that starts a run: first the cautions that matter for it, once, in full. */
export function StartRun({ label, main, ...start }: Start & { label?: string; main?: boolean }) {
  const [open, setOpen] = useState(false);
  const p = start.procedure;
  return (
    <>
      <Button
        type={main ? "primary" : "default"}
        size={main ? "large" : "middle"}
        data-start={p.id}
        onClick={() => setOpen(true)}
      >
        {label ?? p.name}
      </Button>
      <StartRunSheet {...start} open={open} onClose={() => setOpen(false)} />
    </>
  );
}
