import { Button, Modal, Radio } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useNavigate } from "react-router";
import { v7 as uuid } from "uuid";
import { api, fieldSays, mayPass, type Problem } from "../api/client";
import { useMe } from "../frame/me";
import { useBeginRun } from "../kept/begin-run";
import { keepSent } from "../kept/sent";
import { now } from "./clock";
import { FigureField } from "./figure-field";
import { Tool } from "./glyphs";
import { readFigure } from "./read-figure";
import type { Start } from "./start-run";
import styles from "./start-run.module.css";
import { StateMark } from "./state-mark";
import { WordsField } from "./words-field";

/** What matters before a run begins: its cautions once, in full, and what it must be told. */
export default function StartRunSheet({
  pool,
  stop,
  rpm,
  work,
  procedure: p,
  findings,
  open,
  onClose,
}: Start & { open: boolean; onClose: () => void }) {
  const { t } = useTranslation();
  const go = useNavigate();
  const [id] = useState(() => uuid());
  const [reason, setReason] = useState("");
  const [water, setWater] = useState("");
  const [short, setShort] = useState(p.short > 0);
  const start = api.useMutation("post", "/api/v1/pools/{id}/runs");
  const { id: me } = useMe();
  const beginHere = useBeginRun(pool, work.hold);
  const [refused, setRefused] = useState<Problem | null>(null);
  const problem = refused ?? (start.error as Problem | null);
  const says = fieldSays(problem);
  const held = p.discharges ? work.hold : null;
  const begin = () => {
    setRefused(null);
    const body = {
      id,
      procedure: p.id,
      stopId: stop,
      speed: rpm ?? undefined,
      waterF: water.trim() ? readFigure(water) || -1 : undefined,
      reason: reason || undefined,
      short: short || undefined,
      findings,
    };
    start.mutate(
      { params: { path: { id: pool } }, body },
      {
        onSuccess: (run) => {
          const begun = { pool, ask: body, at: now().toISOString() };
          if (run.id === id) keepSent(me, "run", id, { queue: [], last: run, begun });
          go(`/runs/${run.id}`);
        },
        onError: async (error) => {
          if (!mayPass(error)) return;
          const why = await beginHere(body);
          if (why) setRefused(why);
          else go(`/runs/${id}`);
        },
      },
    );
  };
  return (
    <Modal
      open={open}
      onCancel={() => {
        start.reset();
        setRefused(null);
        onClose();
      }}
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
          {p.aim} {t("run.minutes", { n: p.minutes })} {p.soak > 0 && t("run.soak", { h: Math.round(p.soak / 6) / 10 })}
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
  );
}
