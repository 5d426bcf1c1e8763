import { useEffect, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { useNavigate } from "react-router";
import { v7 as uuid } from "uuid";
import { api, fieldSays, type PoolWork, type Problem, type ProcedureBrief } from "../api/client";
import { readFigure } from "./read-figure";
import { StateMark } from "./state-mark";

interface Props {
  pool: string;
  stop?: string;
  /** The speed read at the bench, for the reading after. */
  rpm?: number | null;
  work: PoolWork;
  procedure: ProcedureBrief;
  label?: string;
  main?: boolean;
}

/** A button that starts a run: first the cautions that matter for it, once, in full. */
export function StartRun({ pool, stop, rpm, work, procedure: p, label, main }: Props) {
  const { t } = useTranslation();
  const go = useNavigate();
  const ref = useRef<HTMLDialogElement>(null);
  const [open, setOpen] = useState(false);
  const [id] = useState(() => uuid());
  const [reason, setReason] = useState("");
  const [water, setWater] = useState("");
  const [short, setShort] = useState(p.short > 0);
  const start = api.useMutation("post", "/api/v1/pools/{id}/runs");
  useEffect(() => {
    const d = ref.current;
    if (open && !d?.open) d?.showModal();
    if (!open && d?.open) d.close();
  }, [open]);
  const problem = start.error as Problem | null;
  const says = fieldSays(problem);
  const held = p.discharges ? work.hold : null;
  return (
    <>
      <button
        type="button"
        className={`btn ${main ? "main" : ""}`}
        data-start={p.id}
        onClick={() => {
          start.reset();
          setOpen(true);
        }}
      >
        {label ?? p.name}
      </button>
      {open && (
        <dialog
          ref={ref}
          className="log-sheet start-run"
          aria-labelledby={`start-${p.id}`}
          onClose={() => setOpen(false)}
        >
          <form
            onSubmit={(e) => {
              e.preventDefault();
              start.mutate(
                {
                  params: { path: { id: pool } },
                  body: {
                    id,
                    procedure: p.id,
                    stopId: stop,
                    speed: rpm ?? undefined,
                    waterF: water.trim() ? readFigure(water) || -1 : undefined,
                    reason: reason || undefined,
                    short: short || undefined,
                  },
                },
                { onSuccess: (run) => go(`/runs/${run.id}`) },
              );
            }}
          >
            <header className="log-head">
              <h2 id={`start-${p.id}`}>{p.name}</h2>
              <button type="button" className="btn plain" onClick={() => setOpen(false)}>
                {t("log.back")}
              </button>
            </header>
            <p className="lead">
              {p.aim} {t("run.minutes", { n: p.minutes })}
            </p>
            <ul className="care">
              {p.cautions.map((c) => (
                <li key={c}>
                  <StateMark mark="act" size={18} />
                  <span>{c}</span>
                </li>
              ))}
            </ul>
            {p.takes.length > 0 && (
              <p>
                <b>{t("run.takes")}</b> {p.takes.map((m) => [m.name, m.amount].filter(Boolean).join(" ")).join(" · ")}
              </p>
            )}
            {p.short > 0 && (
              <fieldset className="run-form" id="run-form">
                {[true, false].map((few) => (
                  <label key={String(few)}>
                    <input type="radio" name={`form-${p.id}`} checked={short === few} onChange={() => setShort(few)} />
                    {t(few ? "run.short" : "run.full", { count: few ? p.short : p.steps })}
                  </label>
                ))}
              </fieldset>
            )}
            {p.lifts && (
              <label className="line">
                {t("run.water")}
                <input
                  id="run-water"
                  inputMode="decimal"
                  autoComplete="off"
                  value={water}
                  aria-invalid={Boolean(says.waterF)}
                  onChange={(e) => setWater(e.target.value)}
                />
                {says.waterF && (
                  <span className="field-says" role="alert">
                    {says.waterF}
                  </span>
                )}
              </label>
            )}
            {(held || says.reason) && (
              <label className="line">
                <span className="advice">
                  <StateMark mark="hold" />
                  <span>{says.reason ?? t("run.held", { why: held?.why ?? "" })}</span>
                </span>
                <input id="run-reason" value={reason} maxLength={300} onChange={(e) => setReason(e.target.value)} />
              </label>
            )}
            {problem && !says.reason && !says.waterF && (
              <p className="field-says" role="alert">
                {Object.values(says)[0] ?? problem.detail ?? t("state.offline")}
              </p>
            )}
            <p className="quiet">{t("run.rules")}</p>
            <button type="submit" className="btn main" id="run-start" disabled={start.isPending}>
              {t("run.start")}
            </button>
          </form>
        </dialog>
      )}
    </>
  );
}
