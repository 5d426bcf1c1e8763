import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { ScriptStep } from "../../kept/follow";
import { WordsField } from "../../parts/words-field";
import styles from "./run.module.css";
import { clockOf } from "./timer";

interface Props {
  timer: ScriptStep["timer"];
  elapsed: number;
  why: string;
  onWhy: (why: string) => void;
}

/** A wait that binds: what is left of it, and the way past it with a reason that is kept. */
export function EarlyEnd({ timer, elapsed, why, onWhy }: Props) {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  if (!timer?.least) return null;
  const measured = timer.count === "prime" || timer.count === "drain";
  return (
    <div className={styles["early-end"]}>
      <p className="quiet" id="run-bound">
        {t(measured ? "run.boundTime" : "run.bound", { left: clockOf(Math.ceil(timer.least - elapsed)) })}
      </p>
      {open ? (
        <WordsField id="run-early" label={t("run.earlyWhy")} value={why} onChange={onWhy} />
      ) : (
        <Button type="link" id="run-early-open" onClick={() => setOpen(true)}>
          {t("run.early")}
        </Button>
      )}
    </div>
  );
}
