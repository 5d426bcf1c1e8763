import { Button, Skeleton } from "antd";
import { useTranslation } from "react-i18next";
import { mayPass, type Problem } from "../api/client";
import { StateMark } from "./state-mark";

/** What is still to come, about as high as it will be. */
export function Loading({ rows = 6 }: { rows?: number }) {
  const { t } = useTranslation();
  return (
    <div className="quiet-state" role="status" aria-busy="true">
      <span className="sr">{t("state.loading")}</span>
      <Skeleton title={false} paragraph={{ rows, width: "100%" }} />
    </div>
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
