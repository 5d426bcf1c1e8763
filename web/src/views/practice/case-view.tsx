import { Button, Popconfirm, Segmented } from "antd";
import { useEffect, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { useNavigate, useParams } from "react-router";
import type { PracticeView } from "../../api/client";
import { useMe } from "../../frame/me";
import { Page } from "../../frame/page";
import { forget } from "../../kept/store";
import { figure, measured, money } from "../../parts/format";
import { GoButton } from "../../parts/go-button";
import { later } from "../../parts/later";
import { Loading, Trouble } from "../../parts/quiet-states";
import { StateMark } from "../../parts/state-mark";
import { useWide } from "../../parts/use-wide";
import { Help } from "./help";
import { Looks } from "./looks";
import { OddsSheet } from "./odds-sheet";
import { PadAtHand } from "./pad-at-hand";
import styles from "./practice.module.css";
import { Steps } from "./steps";
import { type Do, useAttempt } from "./use-attempt";
import { Work } from "./work";

const Debrief = later(() => import("./debrief"));

/** One case: the pad at hand, what may be looked for and done, and at the end what it was. */
export default function CaseView() {
  const { t } = useTranslation();
  const { id = "" } = useParams();
  const { answer, ask, kept, act, missing, record } = useAttempt(id);
  const view = answer.data?.view;
  if (missing) {
    return (
      <Page title={t("practice.title")}>
        <p className="quiet-state">
          {t("practice.gone")} <GoButton to="/practice">{t("practice.back")}</GoButton>
        </p>
      </Page>
    );
  }
  if (record.isError && !ask) {
    return (
      <Page title={t("practice.title")}>
        <Trouble error={record.error} onRetry={() => record.refetch()} />
      </Page>
    );
  }
  if (answer.isError) {
    return (
      <Page title={t("practice.title")}>
        <Trouble error={answer.error} onRetry={() => answer.refetch()} />
      </Page>
    );
  }
  if (!view || !ask) {
    return (
      <Page title={kept?.title ?? t("practice.title")}>
        <Loading />
      </Page>
    );
  }
  return (
    <Page title={view.title} acts={<Away id={id} over={view.over} />}>
      <div className={styles.case} data-turn={view.turn} aria-busy={answer.isFetching}>
        {view.over && answer.data?.debrief ? (
          <Debrief view={view} debrief={answer.data.debrief} />
        ) : (
          <AtThePad view={view} act={act} />
        )}
      </div>
    </Page>
  );
}

/** The ways away: put by, it waits here; given up, it is gone. */
function Away({ id, over }: { id: string; over: boolean }) {
  const { t } = useTranslation();
  const me = useMe();
  const go = useNavigate();
  if (over) return <GoButton to="/practice">{t("practice.back")}</GoButton>;
  return (
    <>
      <GoButton to="/practice">{t("practice.putBy")}</GoButton>
      <Popconfirm
        title={t("practice.giveUpSure")}
        okText={t("practice.giveUp")}
        cancelText={t("log.back")}
        onConfirm={() => {
          forget(me.id, "practice", id);
          go("/practice");
        }}
      >
        <Button type="text">{t("practice.giveUp")}</Button>
      </Popconfirm>
    </>
  );
}

const parts = ["pad", "looks", "work", "steps"] as const;
type Part = (typeof parts)[number];

function AtThePad({ view, act }: { view: PracticeView; act: Do }) {
  const { t } = useTranslation();
  const wide = useWide();
  const [chosen, setChosen] = useState<Part>("pad");
  const part: Part = wide && chosen === "pad" ? "looks" : chosen;
  const asked = view.mode === "odds";
  const shown = parts.filter((p) => !wide || p !== "pad");
  return (
    <>
      <p className={styles.story}>{view.story}</p>
      <Sums view={view} />
      <Last view={view} />
      {!wide && view.hint && <Help view={view} act={act} />}
      {asked && <OddsSheet view={view} act={act} />}
      <div className={styles.at}>
        {wide && <PadAtHand view={view} act={act} />}
        <div className={styles.side}>
          {wide && view.hint && <Help view={view} act={act} />}
          <Segmented
            block
            className={styles.parts}
            value={part}
            options={shown.map((p) => ({ value: p, label: <span data-part={p}>{t(`practice.part.${p}`)}</span> }))}
            onChange={setChosen}
          />
          {part === "pad" && <PadAtHand view={view} act={act} />}
          {part === "looks" && <Looks view={view} act={act} />}
          {part === "work" && <Work view={view} act={act} />}
          {part === "steps" && <Steps steps={view.steps} harms={view.harms} />}
        </div>
      </div>
      <div className={styles.leave}>
        {view.unlike && <p className="state-line quiet">{view.unlike}</p>}
        <Popconfirm
          title={t(view.unlike ? "practice.leaveUnlike" : "practice.leaveSure")}
          okText={t("practice.leave")}
          cancelText={t("log.back")}
          onConfirm={() => act({ act: "leave" })}
        >
          <Button size="large" id="practice-leave">
            {t("practice.leave")}
          </Button>
        </Popconfirm>
      </div>
    </>
  );
}

/** What has gone so far. */
function Sums({ view }: { view: PracticeView }) {
  const { t } = useTranslation();
  const { minutes, gallons, dollars, harms } = view.costs;
  return (
    <p className={styles.sums} id="practice-sums">
      <span>
        <b className="n">{figure(minutes, "min")}</b> {t("practice.min")}
      </span>
      <span>{measured(gallons, "gal")}</span>
      <span>{money(dollars)}</span>
      {harms > 0 && (
        <span className="state-line">
          <StateMark mark="stop" /> {t("practice.harms", { count: harms })}
        </span>
      )}
    </p>
  );
}

/** What the last act told. */
function Last({ view }: { view: PracticeView }) {
  const box = useRef<HTMLDivElement>(null);
  const last = view.steps.at(-1);
  const { length } = view.harms;
  // What a broken rule did is seen wherever the hand was.
  useEffect(() => {
    if (length > 0) box.current?.scrollIntoView({ block: "center" });
  }, [length]);
  if (!last) return null;
  const harm = view.harms.find((h) => h.turn === view.turn - 1);
  return (
    <div className={harm ? "danger" : styles.last} role="status" id="practice-last" ref={box}>
      {harm && <StateMark mark="stop" size={26} />}
      <p>
        <b>{last.did}</b>
        {last.told.map((says, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: told in order
          <span key={i}> {says}</span>
        ))}
        {harm && <small>{harm.why}</small>}
      </p>
    </div>
  );
}
