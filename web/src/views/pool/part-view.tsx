import { Button, Descriptions, Progress } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useParams } from "react-router";
import { api, type PoolRecordView } from "../../api/client";
import { Page } from "../../frame/page";
import { date, money } from "../../parts/format";
import { Photos } from "../../parts/photos";
import { Loading, Trouble } from "../../parts/quiet-states";
import { StateMark } from "../../parts/state-mark";
import { PartEvents } from "./part-events";
import { type Act, PartForm } from "./part-form";
import { PartLife } from "./part-life";
import styles from "./part-view.module.css";

/** One part: its life, what was done to it and to those before it in its place, its pictures. */
export default function PartView() {
  const { t } = useTranslation();
  const { id = "", part = "" } = useParams();
  const pool = api.useQuery("get", "/api/v1/pools/{id}", { params: { path: { id } } });
  if (!pool.data) {
    return <Page>{pool.isError ? <Trouble error={pool.error} onRetry={() => pool.refetch()} /> : <Loading />}</Page>;
  }
  const p = pool.data.parts.find((x) => x.id === part);
  if (!p) {
    return (
      <Page title={t("parts.title")}>
        <p className="quiet-state">
          {t("parts.gone")} <Link to={`/pools/${id}`}>{pool.data.pool.street}</Link>
        </p>
      </Page>
    );
  }
  return <AtHand key={part} view={pool.data} part={p} />;
}

type Part = PoolRecordView["parts"][number];

/** A part's own events and those of the parts that stood in its place before. */
function line(events: PoolRecordView["partEvents"], id: string): PoolRecordView["partEvents"] {
  const own = events.filter((e) => e.part === id);
  const was = own.map((e) => e.wasId).filter(Boolean);
  return [...own, ...was.flatMap((w) => line(events, w))];
}

function AtHand({ view, part: p }: { view: PoolRecordView; part: Part }) {
  const { t } = useTranslation();
  const [act, setAct] = useState<Act | null>(null);
  const about = api.useQuery("get", "/api/v1/pools/{id}/about", { params: { path: { id: view.pool.id } } });
  const share = p.ageYears != null && p.expectedYears ? p.ageYears / p.expectedYears : 0;
  const words = [p.name, p.model, p.serial].filter(Boolean).map((w) => w.toLowerCase());
  const shots = about.data?.photos.filter((s) => words.some((w) => s.caption.toLowerCase().includes(w))) ?? [];
  const events = line(view.partEvents, p.id);
  return (
    <Page
      title={`${p.name}${p.model ? ` ${p.model}` : ""}`}
      acts={<Link to={`/pools/${view.pool.id}`}>{view.pool.street}</Link>}
    >
      <div className={styles.part} id="part">
        <section>
          <p className="state-line">
            <StateMark mark={share > 0.85 ? "act" : "fine"} />
            <b>
              {p.ageYears == null || p.expectedYears == null
                ? t("parts.lifeUnknown")
                : t("parts.lifeIs", { age: p.ageYears.toFixed(1), of: p.expectedYears })}
            </b>
          </p>
          <Progress
            percent={Math.min(100, Math.round(100 * share))}
            strokeColor={share > 0.85 ? "var(--act)" : "var(--ink)"}
            railColor="var(--paper-deep)"
            strokeLinecap="butt"
            showInfo={false}
            aria-label={t("record.age")}
          />
          <Descriptions
            column={1}
            size="small"
            items={[
              { key: "model", label: t("parts.field.model"), children: p.model || "–" },
              { key: "serial", label: t("parts.field.serial"), children: p.serial || "–" },
              {
                key: "installed",
                label: t("parts.field.on"),
                children: p.installedOn ? date(p.installedOn) : "–",
              },
              {
                key: "warranty",
                label: t("parts.field.warrantyUntil"),
                children: p.warrantyUntil ? date(p.warrantyUntil) : "–",
              },
              { key: "cost", label: t("parts.field.cost"), children: p.cost == null ? "–" : money(p.cost) },
            ]}
          />
          <div className={styles.acts}>
            {(["replace", "repair", "remove"] as const).map((a) => (
              <Button key={a} data-act={a} aria-expanded={act === a} onClick={() => setAct(act === a ? null : a)}>
                {t(`parts.act.${a}`)}
              </Button>
            ))}
          </div>
          {act && (
            <PartForm
              key={act}
              pool={view.pool.id}
              street={view.pool.street}
              act={act}
              part={p}
              others={view.parts}
              onDone={() => setAct(null)}
            />
          )}
          {view.mayEdit && <PartLife key={`${p.id}${p.expectedYears}`} part={p} />}
        </section>
        <section>
          <h2>{t("parts.events")}</h2>
          {events.length === 0 && <p className="empty">{t("parts.noEvents")}</p>}
          <PartEvents events={events} />
          <h2>{t("bench.photos")}</h2>
          {about.data && shots.length === 0 && <p className="empty">{t("parts.noPhotos")}</p>}
          <Photos shots={shots} mayEdit={false} />
        </section>
      </div>
    </Page>
  );
}
