import { Button, Popconfirm, Segmented } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, http, type PracticeCaseRow, type PracticeStanding } from "../../api/client";
import { useChanged } from "../../api/use-changed";
import { useMe } from "../../frame/me";
import { Page } from "../../frame/page";
import { usePractising } from "../../kept/waiting";
import { DataTable } from "../../parts/data-table";
import { day } from "../../parts/format";
import { GoButton } from "../../parts/go-button";
import { Loading, Trouble } from "../../parts/quiet-states";
import { StateMark } from "../../parts/state-mark";
import { type Mode, useBegin } from "./begin";
import { Calibration } from "./calibration";
import { DrawCase } from "./draw-case";
import { Pairs } from "./pairs";
import styles from "./practice.module.css";
import { useCases } from "./use-attempt";

const modes: Mode[] = ["alone", "odds", "hints", "beside"];

/** Made-up pads to train on: what comes next, what was asked for, all cases, and where one stands. */
export default function PracticeView() {
  const { t } = useTranslation();
  const me = useMe();
  const [mode, setMode] = useState<Mode>("hints");
  const standing = api.useQuery("get", "/api/v1/practice");
  const cases = useCases();
  const open = usePractising(me.id);
  const begin = useBegin();
  return (
    <Page
      title={t("practice.title")}
      acts={
        me.role === "technician" ? undefined : (
          <GoButton to="/practice/people" id="practice-people">
            {t("practice.people")}
          </GoButton>
        )
      }
    >
      <div className={`catalogue ${styles.home}`}>
        <p className="lead">{t("practice.lead")}</p>
        <section className={styles.mode} aria-labelledby="practice-mode">
          <h2 id="practice-mode">{t("practice.mode.title")}</h2>
          <Segmented
            block
            value={mode}
            options={modes.map((m) => ({ value: m, label: <span data-mode={m}>{t(`practice.mode.${m}`)}</span> }))}
            onChange={setMode}
          />
          <p className="quiet">{t(`practice.modeSays.${mode}`)}</p>
        </section>
        {open.map((o) => (
          <p className="state-line" key={o.id} data-open={o.id}>
            <StateMark mark="hold" />
            <span>
              <b>{o.title}</b> {t("practice.goesOn")}
            </span>
            <GoButton to={`/practice/${o.id}`}>{t("practice.goOn")}</GoButton>
          </p>
        ))}
        {standing.isError && !standing.data && <Trouble error={standing.error} onRetry={() => standing.refetch()} />}
        {standing.isPending && <Loading rows={3} />}
        {standing.data && <First standing={standing.data} mode={mode} />}
        <section aria-labelledby="practice-draw">
          <h2 id="practice-draw">{t("practice.drawTitle")}</h2>
          <DrawCase onDraw={(draw, title) => begin({ draw }, title, mode)} />
        </section>
        {cases.isError && !cases.data && <Trouble error={cases.error} onRetry={() => cases.refetch()} />}
        {cases.data && (
          <Library cases={cases.data} done={standing.data} onBegin={(c) => begin({ id: c.id }, c.title, mode)} />
        )}
        {standing.data && standing.data.tries > 0 && <Mine standing={standing.data} />}
      </div>
    </Page>
  );
}

/** What is worth taking first: what the desk asked for, then what this person confuses. */
function First({ standing: s, mode }: { standing: PracticeStanding; mode: Mode }) {
  const { t } = useTranslation();
  const begin = useBegin();
  const next = s.next;
  return (
    <>
      {s.tasks
        .filter((task) => !task.done)
        .map((task) => (
          <article key={task.id} className={styles.next} data-task={task.id}>
            <h2>{task.title}</h2>
            <p className="quiet">{t("practice.asked", { on: day(task.madeAt) })}</p>
            <Button type="primary" onClick={() => begin(task.which, task.title, mode, task.id)}>
              {t("practice.begin")}
            </Button>
          </article>
        ))}
      {next && (
        <article className={styles.next} id="practice-next">
          <h2>{next.title}</h2>
          <p>{next.story}</p>
          <p className="quiet">
            {t(`practice.level.${next.level}`)} · {t(`practice.theme.${next.theme}`)} ·{" "}
            {t(s.pairs.some((p) => p.mixed > 0) ? "practice.nextBecause" : "practice.nextEasiest")}
          </p>
          <Button
            type="primary"
            size="large"
            id="practice-begin"
            onClick={() => begin({ id: next.id }, next.title, mode)}
          >
            {t("practice.begin")}
          </Button>
        </article>
      )}
    </>
  );
}

function Library({
  cases,
  done,
  onBegin,
}: {
  cases: PracticeCaseRow[];
  done: PracticeStanding | undefined;
  onBegin: (c: PracticeCaseRow) => void;
}) {
  const { t } = useTranslation();
  const stands = (c: PracticeCaseRow) => {
    const mine = done?.attempts.filter((a) => a.past?.case === c.id) ?? [];
    if (mine.length === 0) return null;
    const well = mine.some((a) => a.past?.solved && a.past.harms === 0 && a.past.confused.length === 0);
    return <StateMark mark={well ? "fine" : "act"} />;
  };
  return (
    <section aria-labelledby="practice-library">
      <h2 id="practice-library">{t("practice.library", { count: cases.length })}</h2>
      <DataTable
        name="practice-cases"
        label={t("practice.library", { count: cases.length })}
        rows={cases}
        keyOf={(c) => c.id ?? ""}
        attrs={(c) => ({ "data-case": c.id })}
        columns={[
          {
            key: "case",
            title: t("practice.case"),
            head: true,
            cell: (c) => (
              <button type="button" className={styles.pick} onClick={() => onBegin(c)}>
                <b>{c.title}</b>
                <span>{c.story}</span>
              </button>
            ),
          },
          { key: "theme", title: t("practice.about"), wide: true, cell: (c) => t(`practice.theme.${c.theme}`) },
          { key: "level", title: t("practice.hard"), wide: true, cell: (c) => t(`practice.level.${c.level}`) },
          { key: "done", title: t("practice.done"), cell: stands },
        ]}
      />
    </section>
  );
}

/** Where one stands: what was told apart, how honest the odds were, and the way to erase it all. */
function Mine({ standing: s }: { standing: PracticeStanding }) {
  const { t } = useTranslation();
  const changed = useChanged();
  const [failed, setFailed] = useState(false);
  const erase = async () => {
    const { error } = await http.DELETE("/api/v1/practice");
    setFailed(Boolean(error));
    if (!error) await changed("practice");
  };
  return (
    <section aria-labelledby="practice-mine" className={styles.mine}>
      <h2 id="practice-mine">{t("practice.mine")}</h2>
      <p>{t("practice.sum", { count: s.tries, solved: s.solved, harms: s.harms })}</p>
      <Pairs pairs={s.pairs} />
      {s.brier != null && <Calibration standing={s} />}
      <DataTable
        name="practice-past"
        label={t("practice.past")}
        rows={s.attempts.filter((a) => a.past)}
        keyOf={(a) => a.id}
        columns={[
          {
            key: "case",
            title: t("practice.case"),
            head: true,
            cell: (a) => (
              <Link className="plain" to={`/practice/${a.id}`}>
                {a.title}
              </Link>
            ),
          },
          { key: "when", title: t("practice.when"), wide: true, cell: (a) => day(a.begunAt) },
          { key: "mode", title: t("practice.mode.title"), wide: true, cell: (a) => t(`practice.mode.${a.ask.mode}`) },
          {
            key: "how",
            title: t("practice.how"),
            cell: (a) => (
              <span className="state-line">
                <StateMark mark={a.past?.solved ? (a.past.harms ? "act" : "fine") : "open"} />
                {t(a.past?.hurt ? "practice.hurt" : a.past?.solved ? "practice.solved" : "practice.unsolved")}
              </span>
            ),
          },
          {
            key: "cost",
            title: t("practice.against"),
            cell: (a) =>
              a.past && (
                <span className="n">
                  {Math.round(a.past.yours.all)} / {Math.round(a.past.best.all)}
                </span>
              ),
          },
        ]}
      />
      <p className="quiet">{t("practice.yours")}</p>
      <Popconfirm
        title={t("practice.eraseSure")}
        okText={t("practice.erase")}
        cancelText={t("log.back")}
        onConfirm={erase}
      >
        <Button danger id="practice-erase">
          {t("practice.erase")}
        </Button>
      </Popconfirm>
      {failed && (
        <p className="field-says" role="alert">
          {t("practice.notErased")}
        </p>
      )}
    </section>
  );
}
