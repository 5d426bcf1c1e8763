import { Button, Modal, Radio } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useNavigate } from "react-router";
import { v7 as uuid } from "uuid";
import { api, fieldSays, type PoolWork, type Problem, type ProcedureBrief } from "../api/client";
import { FigureField } from "./figure-field";
import { Tool } from "./glyphs";
import { readFigure } from "./read-figure";
import styles from "./start-run.module.css";
import { StateMark } from "./state-mark";
import { WordsField } from "./words-field";

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
  const [open, setOpen] = useState(false);
  const [id] = useState(() => uuid());
  const [reason, setReason] = useState("");
  const [water, setWater] = useState("");
  const [short, setShort] = useState(p.short > 0);
  const start = api.useMutation("post", "/api/v1/pools/{id}/runs");
  const problem = start.error as Problem | null;
  const says = fieldSays(problem);
  const held = p.discharges ? work.hold : null;
  const begin = () =>
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
  return (
    <>
      <Button
        type={main ? "primary" : "default"}
        size={main ? "large" : "middle"}
        data-start={p.id}
        onClick={() => {
          start.reset();
          setOpen(true);
        }}
      >
        {label ?? p.name}
      </Button>
      <Modal
        open={open}
        onCancel={() => setOpen(false)}
        destroyOnHidden
        title={p.name}
        closeIcon={<Tool name="no" />}
        footer={
          <Button
            type="primary"
            size="large"
            block
            id="run-start"
            htmlType="submit"
            form={`start-${p.id}`}
            disabled={start.isPending}
          >
            {t("run.start")}
          </Button>
        }
      >
        <form
          id={`start-${p.id}`}
          className={styles.start}
          onSubmit={(e) => {
            e.preventDefault();
            begin();
          }}
        >
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
            <Radio.Group
              id="run-form"
              value={short}
              options={[true, false].map((few) => ({
                value: few,
                label: t(few ? "run.short" : "run.full", { count: few ? p.short : p.steps }),
              }))}
              onChange={(e) => setShort(e.target.value)}
            />
          )}
          {p.lifts && (
            <FigureField id="run-water" label={t("run.water")} value={water} say={says.waterF} onChange={setWater} />
          )}
          {(held || says.reason) && (
            <WordsField
              id="run-reason"
              label={
                <span className="advice">
                  <StateMark mark="hold" />
                  <span>{says.reason ?? t("run.held", { why: held?.why ?? "" })}</span>
                </span>
              }
              value={reason}
              onChange={setReason}
            />
          )}
          {problem && !says.reason && !says.waterF && (
            <p className="field-says" role="alert">
              {Object.values(says)[0] ?? problem.detail ?? t("state.offline")}
            </p>
          )}
          <p className="quiet">{t("run.rules")}</p>
        </form>
      </Modal>
    </>
  );
}
