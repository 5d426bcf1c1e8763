import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { PoolRecordView } from "../../api/client";
import { Fold } from "../../parts/fold";
import { StateMark } from "../../parts/state-mark";
import { PartEvents } from "./part-events";
import { type Act, PartForm } from "./part-form";
import { PartLife } from "./part-life";
import styles from "./pool.module.css";

/** The parts in place against their lives, what may be done to them, and what was. */
export function Equipment({ view }: { view: PoolRecordView }) {
  const { t } = useTranslation();
  const [asked, setAsked] = useState<{ act: Act; part?: string } | null>(null);
  const form = (part?: PoolRecordView["parts"][number]) =>
    asked &&
    asked.part === part?.id && (
      <PartForm
        pool={view.pool.id}
        street={view.pool.street}
        act={asked.act}
        part={part}
        others={view.parts}
        onDone={() => setAsked(null)}
        key={asked.act}
      />
    );
  return (
    <>
      {view.parts.length === 0 && <p className="empty">{t("record.noParts")}</p>}
      <ul className={styles.kit}>
        {nested(view.parts).map((e) => {
          const share = e.ageYears != null && e.expectedYears ? e.ageYears / e.expectedYears : 0;
          return (
            <li key={e.id} data-part={e.kind} className={e.partOf ? "of" : ""}>
              <Link to={`/pools/${view.pool.id}/parts/${e.id}`}>
                <b>{e.name}</b>
              </Link>
              <span className={styles.mod}>{[e.model, e.serial].filter(Boolean).join(", ")}</span>
              <span className={styles.yrs}>
                {share > 0.85 && (
                  <>
                    <StateMark mark="act" />
                    <em>{t("record.due")}</em>
                  </>
                )}
                <span className="n">{e.ageYears?.toFixed(1) ?? "–"}</span> {t("record.of")}{" "}
                <span className="exp">{e.expectedYears ?? "–"}</span> {t("record.years")}
              </span>
              <span className={styles.age}>
                <i style={{ width: `${Math.min(100, 100 * share)}%` }} />
              </span>
              <Fold head={t("parts.change")}>
                <span className="part-acts">
                  {(["replace", "repair", "remove"] as const).map((act) => (
                    <Button
                      key={act}
                      type="link"
                      data-act={act}
                      aria-expanded={asked?.act === act && asked.part === e.id}
                      onClick={() => setAsked({ act, part: e.id })}
                    >
                      {t(`parts.act.${act}`)}
                    </Button>
                  ))}
                </span>
                {view.mayEdit && <PartLife key={`${e.id}${e.expectedYears}`} part={e} />}
              </Fold>
              {form(e)}
            </li>
          );
        })}
      </ul>
      <Button size="small" id="add-part" onClick={() => setAsked({ act: "install" })}>
        {t("parts.add")}
      </Button>
      {form()}
      <Events events={view.partEvents} />
    </>
  );
}

/** Parts with what belongs to each right below it. */
function nested(parts: PoolRecordView["parts"]): PoolRecordView["parts"] {
  const there = new Set(parts.map((p) => p.id));
  const under = (id: string): PoolRecordView["parts"] =>
    parts.filter((p) => p.partOf === id).flatMap((p) => [p, ...under(p.id)]);
  return parts.filter((p) => !there.has(p.partOf)).flatMap((p) => [p, ...under(p.id)]);
}

function Events({ events }: { events: PoolRecordView["partEvents"] }) {
  const { t } = useTranslation();
  if (!events.length) return null;
  return (
    <Fold head={t("parts.events")} open>
      <PartEvents events={events} />
    </Fold>
  );
}
