import { Button, InputNumber, Segmented } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { PracticeView } from "../../api/client";
import { DataTable } from "../../parts/data-table";
import { figure, measured } from "../../parts/format";
import { PadDrawing } from "../../parts/pad-drawing";
import { StateMark } from "../../parts/state-mark";
import styles from "./practice.module.css";
import type { Do } from "./use-attempt";

const groups = ["power", "valve", "suction", "returns", "tank", "pot"] as const;

/** The pad as it stands, with every handle, the meters and the pump. */
export function PadAtHand({ view, act }: { view: PracticeView; act: Do }) {
  const { t } = useTranslation();
  return (
    <div className={styles.pad} id="practice-pad">
      <div className={styles.drawn}>
        <PadDrawing doc={view.pad} paths={view.paths} label={t("practice.drawing")} />
      </div>
      <p className="state-line" id="practice-pump" data-running={view.state.running} data-stands={view.stands}>
        <StateMark
          mark={view.state.running ? (view.stands ? "act" : "job") : view.state.power === "locked" ? "fine" : "hold"}
        />
        {t(
          view.stands ? "practice.stands" : view.state.running ? "practice.runs" : `practice.off.${view.state.power}`,
          {
            rpm: figure(view.rpm, "rpm"),
          },
        )}
      </p>
      <div className={styles.meters}>
        <Button
          type="primary"
          size="large"
          id="practice-read"
          disabled={view.held}
          onClick={() => act({ act: "read" })}
        >
          {t(view.state.running ? "practice.read" : "practice.readRest")}
        </Button>
        {view.speeds.length > 1 && (
          <Segmented
            aria-label={t("meter.speed")}
            value={view.rpm}
            options={view.speeds.map((rpm) => ({ value: rpm, label: figure(rpm, "rpm") }))}
            onChange={(rpm) => act({ act: "speed", rpm })}
          />
        )}
        <Wait act={act} />
      </div>
      <Readings view={view} />
      {groups.map((group) => {
        const hands = view.hands.filter((h) => h.group === group);
        if (hands.length === 0) return null;
        return (
          <section key={group} className={styles.hands} aria-label={t(`practice.group.${group}`)}>
            <h2>{t(`practice.group.${group}`)}</h2>
            <div>
              {hands.map((h) => (
                <Button
                  key={h.verb + (h.arg ?? "")}
                  data-hand={h.arg ? `${h.verb}:${h.arg}` : h.verb}
                  onClick={() => act({ act: "do", do: { verb: h.verb, arg: h.arg } })}
                >
                  {h.says}
                </Button>
              ))}
            </div>
          </section>
        );
      })}
    </div>
  );
}

/** Letting time go by, to see what the pad does. */
function Wait({ act }: { act: Do }) {
  const { t } = useTranslation();
  const [minutes, setMinutes] = useState(2);
  return (
    <span className={styles.wait}>
      <InputNumber
        aria-label={t("practice.waitMinutes")}
        min={0.5}
        max={240}
        step={0.5}
        value={minutes}
        onChange={(v) => setMinutes(v ?? 1)}
      />
      <Button onClick={() => act({ act: "wait", minutes })}>{t("practice.wait")}</Button>
    </span>
  );
}

/** What was read here, under what was read when the filter was clean. */
function Readings({ view }: { view: PracticeView }) {
  const { t } = useTranslation();
  const rows = [...view.clean.map((r) => ({ ...r, clean: true })), ...view.rows.map((r) => ({ ...r, clean: false }))];
  const meters = [...new Set(rows.flatMap((r) => r.meters.map((m) => m.meter)))];
  return (
    <DataTable
      name="practice-readings"
      label={t("practice.readings")}
      rows={rows}
      keyOf={(_, i) => i}
      attrs={(r) => ({ "data-clean": r.clean })}
      columns={[
        {
          key: "when",
          title: t("practice.when"),
          head: true,
          cell: (r) =>
            r.clean ? t("practice.cleanLine") : t("practice.atMinute", { minutes: figure(r.minutes, "min") }),
        },
        {
          key: "rpm",
          title: t("meter.speed"),
          cell: (r) => (
            <>
              {r.rpm > 0 ? figure(r.rpm, "rpm") : t("drawing.off")}
              {r.set !== "filter" && <span className="quiet"> {t(`setting.${r.set}`)}</span>}
            </>
          ),
        },
        ...meters.map((meter) => ({
          key: meter,
          title: t(`meter.${meter}`),
          cell: (r: (typeof rows)[number]) => {
            const m = r.meters.find((x) => x.meter === meter);
            return m ? <span className={r.clean ? "n" : "fig"}>{measured(m.value, m.unit)}</span> : "";
          },
        })),
      ]}
    />
  );
}
