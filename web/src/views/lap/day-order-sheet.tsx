import { Button, Drawer } from "antd";
import { useTranslation } from "react-i18next";
import { api, type LapView, type Problem } from "../../api/client";
import { useChanged } from "../../api/use-changed";
import { Tool } from "../../parts/glyphs";
import { partLater } from "../../parts/later";
import { StateMark } from "../../parts/state-mark";
import styles from "./day-order.module.css";
import { Shorten } from "./shorten";

const LapMap = partLater(() => import("./lap-map"), 5);

/** The day on the map, and its order: by hand, or the shortest along the roads. */
export default function DayOrderSheet({ lap, open, onClose }: { lap: LapView; open: boolean; onClose: () => void }) {
  const { t } = useTranslation();
  return (
    <Drawer
      open={open}
      onClose={onClose}
      placement="right"
      size={520}
      title={t("order.title")}
      closeIcon={<Tool name="no" />}
      destroyOnHidden
    >
      <div className={styles.order}>
        <LapMap lap={lap} />
        <Shorten lap={lap} />
        <ByHand lap={lap} />
      </div>
    </Drawer>
  );
}

/** The stops to come, each moved up or down by a tap. */
function ByHand({ lap }: { lap: LapView }) {
  const { t } = useTranslation();
  const changed = useChanged();
  const order = api.useMutation("put", "/api/v1/laps/{id}/order", { onSettled: () => changed("route") });
  const problem = order.error as Problem | null;
  const done = lap.stops.filter((s) => s.state === "done").length;
  const move = (from: number, to: number) => {
    const stops = lap.stops.map((s) => s.id);
    const [moved] = stops.splice(from, 1);
    stops.splice(to, 0, moved);
    order.mutate({ params: { path: { id: lap.id } }, body: { version: lap.version, stops } });
  };
  return (
    <section aria-labelledby="by-hand">
      <h2 id="by-hand">{t("order.byHand")}</h2>
      {problem && (
        <p className="state-line" role="alert">
          <StateMark mark="act" />
          <span>{Object.values(problem.errors ?? [])[0]?.message ?? problem.detail ?? t("state.offline")}</span>
        </p>
      )}
      <ol className={styles.stops}>
        {lap.stops.map((s, i) => (
          <li key={s.id} data-order={s.street}>
            <span>
              {s.position} · {s.street}
            </span>
            {i >= done && (
              <>
                <Button
                  type="text"
                  icon={<Tool name="up" />}
                  disabled={i === done || order.isPending}
                  aria-label={t("order.up", { street: s.street })}
                  onClick={() => move(i, i - 1)}
                />
                <Button
                  type="text"
                  icon={<Tool name="down" />}
                  disabled={i === lap.stops.length - 1 || order.isPending}
                  aria-label={t("order.down", { street: s.street })}
                  onClick={() => move(i, i + 1)}
                />
              </>
            )}
          </li>
        ))}
      </ol>
    </section>
  );
}
