import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useNavigate, useParams } from "react-router";
import { v7 as uuid } from "uuid";
import { api, mayPass, type Problem } from "../../api/client";
import { useMe } from "../../frame/me";
import { PoolFrame } from "../../frame/pool-frame";
import { keepSent } from "../../kept/sent";
import { longDay } from "../../parts/format";
import { StateMark } from "../../parts/state-mark";
import styles from "./inspection.module.css";
import { useBeginHere } from "./use-inspection";

/** A pool's inspections: begin one, go on with one, read the last. */
export function InspectionsView() {
  const { t } = useTranslation();
  const { id = "" } = useParams();
  const at = { params: { path: { id } } };
  const about = api.useQuery("get", "/api/v1/pools/{id}/about", at);
  const list = api.useQuery("get", "/api/v1/pools/{id}/inspections", at);
  const [fresh] = useState(() => uuid());
  const go = useNavigate();
  const { id: me } = useMe();
  const beginHere = useBeginHere(id);
  const start = api.useMutation("post", "/api/v1/pools/{id}/inspections", {
    onSuccess: (v) => {
      const begun = { pool: id, at: v.startedAt };
      if (v.id === fresh) keepSent(me, "inspection", v.id, { mine: {}, street: v.street, begun });
      go(`/inspections/${v.id}`);
    },
    onError: async (error) => {
      const open = list.data?.find((i) => i.closedAt == null)?.id;
      const here = mayPass(error) ? (open ?? (await beginHere(fresh))) : undefined;
      if (here) go(`/inspections/${here}`);
    },
  });
  const problem = start.error as Problem | null;
  const left = list.data?.some((i) => i.closedAt == null);
  return (
    <PoolFrame
      id={id}
      query={about}
      street={(a) => a.street}
      of={() => (
        <div className={styles.inspections}>
          <p className="lead">{t("inspection.what")}</p>
          <Button
            type="primary"
            size="large"
            id="insp-start"
            disabled={start.isPending}
            onClick={() => start.mutate({ ...at, body: { id: fresh } })}
          >
            {t(left ? "inspection.goOn" : "inspection.start")}
          </Button>
          {problem && (
            <p className="state-line" role="alert">
              <StateMark mark="act" />
              {problem.detail ?? t("state.offline")}
            </p>
          )}
          {list.data?.length === 0 && <p className="empty">{t("inspection.none")}</p>}
          <ul className={styles["insp-list"]}>
            {list.data?.map((i) => (
              <li key={i.id}>
                <StateMark
                  mark={i.gravest === "stop" ? "stop" : i.gravest === "soon" || i.gravest === "act" ? "act" : "job"}
                />
                <Link to={`/inspections/${i.id}`}>{longDay(i.closedAt ?? i.startedAt)}</Link>
                <span>
                  {t("inspection.findings", { count: i.findings })}
                  {i.closedAt == null && `, ${t("inspection.leftOpen")}`}
                </span>
                <span className="quiet">{i.by}</span>
              </li>
            ))}
          </ul>
        </div>
      )}
    />
  );
}
