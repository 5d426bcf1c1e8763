import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { mayPass, type Problem } from "../api/client";
import { StateMark } from "./state-mark";

export function Loading() {
  const { t } = useTranslation();
  return (
    <p className="quiet-state" role="status">
      {t("state.loading")}
    </p>
  );
}

/** Trouble in words, with a way on. */
export function Trouble({ error, onRetry }: { error: unknown; onRetry: () => void }) {
  const { t } = useTranslation();
  const problem = error as Problem | undefined;
  return (
    <div className="quiet-state" role="alert">
      <p className="state-line">
        <StateMark mark={mayPass(error) ? "act" : "stop"} />
        <b>{problem?.status ? problem.detail : t("state.offline")}</b>
      </p>
      {mayPass(error) && <p>{t("state.triesAgain")}</p>}
      <Button onClick={onRetry}>{t("state.retry")}</Button>
    </div>
  );
}
