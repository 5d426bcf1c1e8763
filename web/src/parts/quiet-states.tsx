import { Button, Skeleton } from "antd";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { mayPass, type Problem } from "../api/client";
import { NoCore } from "../core/here";
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
        <b>{problem?.status ? problem.detail : t(error instanceof NoCore ? "state.noCore" : "state.offline")}</b>
      </p>
      {mayPass(error) && <p>{t("state.triesAgain")}</p>}
      <p className="part-acts">
        <Button onClick={onRetry}>{t("state.retry")}</Button>
        {problem?.status === 404 && <Link to="/pools">{t("state.toPools")}</Link>}
      </p>
    </div>
  );
}

/** A page that broke: it is ours, not the line's; what happened can be copied, and the log has it by its id. */
export function Broke({ error, id }: { error: Error; id: string }) {
  const { t } = useTranslation();
  return (
    <div className="quiet-state" role="alert" id="broke">
      <p className="state-line">
        <StateMark mark="stop" />
        <b>{t("state.broke")}</b>
      </p>
      <p>{t("state.brokeWhat", { id })}</p>
      <p className="part-acts">
        <Button type="primary" onClick={() => location.reload()}>
          {t("state.reload")}
        </Button>
        <Button
          onClick={() =>
            navigator.clipboard?.writeText(`${id}\n${location.href}\n${error.message}\n${error.stack ?? ""}`)
          }
        >
          {t("state.copy")}
        </Button>
        <a href="/">{t("state.toToday")}</a>
      </p>
    </div>
  );
}
