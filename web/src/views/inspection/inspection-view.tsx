import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useParams } from "react-router";
import { api, type Inspection } from "../../api/client";
import { PoolFrame } from "../../frame/pool-frame";
import { longDay } from "../../parts/format";
import { GoButton } from "../../parts/go-button";
import { AddPhoto, Photos } from "../../parts/photos";
import { figureSays } from "../../parts/read-figure";
import { StateMark } from "../../parts/state-mark";
import styles from "./inspection.module.css";
import { ItemRow, Verdict } from "./item-row";
import { useInspection } from "./use-inspection";

/** An inspection: the walk round the pad, its answers and what was found. */
export function InspectionView() {
  const { id = "" } = useParams();
  const query = api.useQuery("get", "/api/v1/inspections/{id}", { params: { path: { id } } });
  return (
    <PoolFrame
      id={query.data?.poolId ?? ""}
      query={query}
      street={(v) => v.street}
      of={(v) => (v.closedAt ? <Closed stands={v} /> : <Walk key={v.id} stands={v} />)}
    />
  );
}

const places = ["pool", "suction", "pump", "filter", "devices", "power", "sizing"] as const;

function Walk({ stands }: { stands: Inspection }) {
  const { t } = useTranslation();
  const [sure, setSure] = useState(false);
  const insp = useInspection(stands);
  const asked = stands.items.filter((i) => i.kind !== "computed");
  const done = asked.filter((i) => insp.answers[i.id]?.value != null || insp.answers[i.id]?.yes != null);
  const wrong = insp.wrong.length > 0;
  return (
    <div className={styles.inspection}>
      <div className={styles["insp-walk"]}>
        <p className="state-line" id="insp-kept" role="status">
          {t("inspection.looked", { done: done.length, of: asked.length })}{" "}
          <span className="quiet">
            {insp.trouble
              ? (insp.trouble.detail ?? t("state.offline"))
              : t(insp.saving ? "inspection.keeping" : "inspection.kept")}
          </span>
        </p>
        {insp.joined && <p role="status">{t("inspection.joined")}</p>}
        {places.map((p) => {
          const items = stands.items.filter((i) => i.place === p);
          if (items.length === 0) return null;
          return (
            <section key={p} aria-labelledby={`place-${p}`}>
              <h2 id={`place-${p}`}>{t(`inspection.places.${p}`)}</h2>
              <ul className={styles["insp-items"]}>
                {items.map((i) => (
                  <ItemRow
                    key={i.id}
                    item={i}
                    stands={stands}
                    typed={insp.shown(i.id)}
                    finding={stands.findings.find((f) => f.item === i.id)}
                    say={insp.says(i.id) || (insp.wrong.includes(i.id) ? figureSays(insp.shown(i.id).value ?? "") : "")}
                    onAnswer={(typed) => insp.answer(i.id, typed)}
                  />
                ))}
              </ul>
            </section>
          );
        })}
      </div>
      <aside className={styles["insp-side"]}>
        <Found stands={stands} />
        {sure ? (
          <Button
            type="primary"
            size="large"
            id="insp-close-sure"
            disabled={insp.closing || wrong}
            onClick={insp.close}
          >
            {t("inspection.closeSure")}
          </Button>
        ) : (
          <Button type="primary" size="large" id="insp-close" disabled={wrong} onClick={() => setSure(true)}>
            {t("inspection.close")}
          </Button>
        )}
        <section>
          <h2>{t("inspection.photos")}</h2>
          <AddPhoto pool={stands.poolId} of={{ inspection: stands.id }} />
          <Photos shots={stands.photos.filter((p) => p.item === "")} mayEdit={false} />
        </section>
      </aside>
    </div>
  );
}

function Closed({ stands }: { stands: Inspection }) {
  const { t } = useTranslation();
  return (
    <div className={styles.inspection}>
      <div className={styles["insp-walk"]}>
        <p>{t("inspection.closed", { at: longDay(stands.closedAt ?? ""), by: stands.by })}</p>
        <Found stands={stands} />
      </div>
      <aside className={styles["insp-side"]}>
        <GoButton
          type="primary"
          size="large"
          id="insp-report"
          to={`/pools/${stands.poolId}/papers/inspection?of=${stands.id}`}
        >
          {t("inspection.report")}
        </GoButton>
      </aside>
    </div>
  );
}

/** What was found so far, and how that stands against the inspection before. */
function Found({ stands }: { stands: Inspection }) {
  const { t } = useTranslation();
  const before = stands.before;
  return (
    <section id="insp-found">
      <h2>{t("inspection.findings", { count: stands.findings.length })}</h2>
      {stands.findings.length === 0 && (
        <p className="state-line">
          <StateMark mark="fine" />
          {t("inspection.nothing")}
        </p>
      )}
      {stands.findings.map((f) => (
        <div key={f.item}>
          <h3>{f.name}</h3>
          <Verdict finding={f} />
          {f.note && <p className="quiet">{f.note}</p>}
        </div>
      ))}
      {before && (
        <>
          <h3>{t("inspection.before", { at: longDay(before.closedAt) })}</h3>
          {before.mended.length > 0 && <p>{t("inspection.mended", { what: before.mended.join(", ") })}</p>}
          {before.new.length > 0 && <p>{t("inspection.new", { what: before.new.join(", ") })}</p>}
          {before.mended.length + before.new.length === 0 && <p className="quiet">{t("inspection.same")}</p>}
        </>
      )}
    </section>
  );
}
