import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, type FirstStep } from "../../api/client";
import { GoButton } from "../../parts/go-button";
import { StateMark } from "../../parts/state-mark";
import styles from "./first-steps.module.css";

/** Where each step is done. */
const doors: Record<FirstStep["id"], string> = {
  people: "/office/people",
  customers: "/import",
  days: "/pools",
  prices: "/office",
  visit: "/practice",
};

const marks = { done: "fine", skipped: "hold", todo: "job" } as const;

/** A new company's first steps: they stay until each is done, or not needed. */
export function FirstSteps() {
  const { t } = useTranslation();
  const steps = api.useQuery("get", "/api/v1/first-steps");
  const skip = api.useMutation("put", "/api/v1/first-steps/{id}", { onSuccess: () => steps.refetch() });
  if (!steps.data?.length) return null;
  const settled = steps.data.filter((s) => s.state !== "todo").length;
  const next = steps.data.find((s) => s.state === "todo");
  return (
    <section className={styles.steps} id="first-steps" aria-labelledby="first-steps-head">
      <h2 id="first-steps-head">
        {t("first.title")}{" "}
        <span className="quiet">{t("first.settled", { done: settled, count: steps.data.length })}</span>
      </h2>
      <ol>
        {steps.data.map((s) => (
          <li key={s.id} data-step={s.id} data-state={s.state} aria-current={s === next ? "step" : undefined}>
            <span className={styles.state}>
              <StateMark mark={s === next ? "act" : marks[s.state]} size={18} />
              {t(s === next ? "first.next" : `first.states.${s.state}`)}
            </span>
            <span className={styles.what}>
              <b>{t(`first.steps.${s.id}`)}</b>
              <span className="quiet">{s.says}</span>
            </span>
            <span className={styles.acts}>
              {s.state !== "done" && (
                <Button
                  type="link"
                  onClick={() =>
                    skip.mutate({ params: { path: { id: s.id } }, body: { skipped: s.state !== "skipped" } })
                  }
                >
                  {t(s.state === "skipped" ? "first.putBack" : "first.notNeeded")}
                </Button>
              )}
              {s.state !== "skipped" && (
                <GoButton type={s === next ? "primary" : "default"} to={doors[s.id]}>
                  {t(`first.doors.${s.id}`)}
                </GoButton>
              )}
            </span>
          </li>
        ))}
      </ol>
      <p className="quiet">
        {t("first.onePool")} <Link to="/pools/new">{t("first.pool")}</Link>
      </p>
    </section>
  );
}

/** A day without a lap: the way to the pools. */
export function NoLap() {
  const { t } = useTranslation();
  return (
    <p className="quiet-state">
      {t("lap.none")} <Link to="/pools">{t("lap.toPools")}</Link>
    </p>
  );
}
