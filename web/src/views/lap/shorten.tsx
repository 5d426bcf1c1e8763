import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type LapView, type Problem } from "../../api/client";
import { useChanged } from "../../api/use-changed";
import { figure } from "../../parts/format";
import { StateMark } from "../../parts/state-mark";
import styles from "./lap.module.css";

/** The day's order beside the shortest along the roads; taken only when somebody says so, and put back as easily. */
export function Shorten({ lap }: { lap: LapView }) {
  const { t } = useTranslation();
  const changed = useChanged();
  const [asked, setAsked] = useState(false);
  const [before, setBefore] = useState<string[] | null>(null);
  const short = api.useQuery(
    "get",
    "/api/v1/laps/{id}/shorter",
    { params: { path: { id: lap.id } } },
    { enabled: asked },
  );
  const order = api.useMutation("put", "/api/v1/laps/{id}/order");
  const problem = (order.error ?? short.error) as Problem | null;
  const put = (version: number, stops: string[], then: () => void) =>
    order.mutate(
      { params: { path: { id: lap.id } }, body: { version, stops } },
      { onSuccess: then, onSettled: () => changed("route") },
    );
  const s = short.data;
  const saves = s ? s.given.miles - s.best.miles : 0;
  return (
    <section className={styles.shorten} aria-labelledby="shorten-head">
      <h2 id="shorten-head">{t("shorten.title")}</h2>
      {problem && (
        <p className="state-line" role="alert">
          <StateMark mark="act" />
          <span>{problem.detail ?? t("state.offline")}</span>
        </p>
      )}
      {before && (
        <p className="state-line" role="status">
          <StateMark mark="fine" />
          <span>{t("shorten.taken")}</span>
          <Button size="small" id="order-back" onClick={() => put(lap.version, before, () => setBefore(null))}>
            {t("shorten.back")}
          </Button>
        </p>
      )}
      {!asked && (
        <Button id="shorten" onClick={() => setAsked(true)}>
          {t("shorten.ask")}
        </Button>
      )}
      {asked && s && s.unknown.length > 0 && <p>{t("shorten.unknown", { where: s.unknown.join(", ") })}</p>}
      {asked && s && s.unknown.length === 0 && saves < 0.05 && !before && <p>{t("shorten.already")}</p>}
      {asked && s && saves >= 0.05 && (
        <>
          <p>
            {t("shorten.saves", {
              given: figure(s.given.miles, "miles"),
              best: figure(s.best.miles, "miles"),
              minutes: Math.round(s.given.minutes - s.best.minutes),
            })}
          </p>
          <ol className={styles["new-order"]}>
            {s.order.map((st) => (
              <li key={st.id}>{st.street}</li>
            ))}
          </ol>
          <Button
            type="primary"
            size="large"
            id="take-order"
            disabled={order.isPending}
            onClick={() =>
              put(
                s.version,
                s.order.map((st) => st.id),
                () => setBefore(s.now),
              )
            }
          >
            {t("shorten.take")}
          </Button>{" "}
          <Button type="link" onClick={() => setAsked(false)}>
            {t("shorten.keep")}
          </Button>
        </>
      )}
    </section>
  );
}
