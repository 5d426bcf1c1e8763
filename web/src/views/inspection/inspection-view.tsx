import { Button, Progress, Segmented } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useParams, useSearchParams } from "react-router";
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

function Walk({ stands: onRecord }: { stands: Inspection }) {
  const { t } = useTranslation();
  const [sure, setSure] = useState(false);
  const insp = useInspection(onRecord);
  const { stands } = insp;
  const asked = stands.items.filter((i) => i.kind !== "computed");
  const done = asked.filter((i) => insp.answers[i.id]?.value != null || insp.answers[i.id]?.yes != null);
  const wrong = insp.wrong.length > 0;
  const [search, setSearch] = useSearchParams();
  const shown = places.filter((p) => stands.items.some((i) => i.place === p));
  const here = shown.find((p) => p === search.get("place")) ?? shown[0];
  const setPlace = (place: string) => {
    setSearch({ place }, { replace: true });
    document.getElementById("insp-kept")?.scrollIntoView({ block: "start" });
  };
  /** Of a place's questions: answered, and all. */
  const count = (place: string) => {
    const of = asked.filter((i) => i.place === place);
    return [of.filter((i) => done.includes(i)).length, of.length];
  };
  const next = shown[shown.indexOf(here) + 1];
  const open = shown.find((p) => count(p)[0] < count(p)[1]);
  return (
    <div className={styles.inspection}>
      <div className={styles["insp-walk"]}>
        <p className="state-line" id="insp-kept" role="status">
          {t("inspection.looked", { done: done.length, of: asked.length })}{" "}
          <span className="quiet">
            {insp.trouble !== null
              ? insp.trouble || t("state.offline")
              : t(insp.saving ? "inspection.keeping" : "inspection.kept")}
          </span>
        </p>
        <Progress
          percent={Math.round((100 * done.length) / Math.max(1, asked.length))}
          showInfo={false}
          strokeColor="var(--petrol)"
          railColor="var(--paper-deep)"
          strokeLinecap="butt"
          aria-label={t("inspection.looked", { done: done.length, of: asked.length })}
        />
        {insp.joined && <p role="status">{t("inspection.joined")}</p>}
        <div className={styles.places} id="insp-places">
          <Segmented
            aria-label={t("inspection.where")}
            value={here}
            options={shown.map((p) => {
              const [n, of] = count(p);
              return {
                value: p,
                label: (
                  <span data-place={p} data-done={n === of}>
                    {t(`inspection.places.${p}`)}{" "}
                    <span className="n">
                      {n}/{of}
                    </span>
                  </span>
                ),
              };
            })}
            onChange={setPlace}
          />
        </div>
        <section aria-labelledby="insp-here">
          <h2 id="insp-here" className="sr">
            {t(`inspection.places.${here}`)}
          </h2>
          <ul className={styles["insp-items"]}>
            {stands.items
              .filter((i) => i.place === here)
              .map((i) => (
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
        <p className="part-acts">
          {next && (
            <Button type="primary" size="large" id="insp-next" onClick={() => setPlace(next)}>
              {t("inspection.nextPlace", { place: t(`inspection.places.${next}`) })}
            </Button>
          )}
          {open && open !== here && (
            <Button id="insp-open" onClick={() => setPlace(open)}>
              {t("inspection.openPlace", { place: t(`inspection.places.${open}`) })}
            </Button>
          )}
        </p>
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
