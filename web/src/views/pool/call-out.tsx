import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { useNavigate } from "react-router";
import { api, fieldSays, type Problem } from "../../api/client";

/** Somebody called: the pool goes on today's lap of whoever is here, and its bench opens. */
export function CallOut({ pool }: { pool: string }) {
  const { t } = useTranslation();
  const go = useNavigate();
  const call = api.useMutation("post", "/api/v1/pools/{id}/call-outs", {
    onSuccess: (out) => go(`/stops/${out.stopId}`, { state: { called: true } }),
  });
  const problem = call.error as Problem | null;
  return (
    <>
      <Button id="call-out" disabled={call.isPending} onClick={() => call.mutate({ params: { path: { id: pool } } })}>
        {t("record.callOut")}
      </Button>
      {problem && (
        <span className="field-says" role="alert">
          {Object.values(fieldSays(problem))[0] ?? problem.detail ?? t("state.offline")}
        </span>
      )}
    </>
  );
}
