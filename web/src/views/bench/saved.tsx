import { Button } from "antd";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { v7 as uuid } from "uuid";
import { api, type Problem } from "../../api/client";
import { useChanged } from "../../api/use-changed";
import { now } from "../../parts/clock";
import { clock } from "../../parts/format";
import { StateMark } from "../../parts/state-mark";
import type { Draft } from "../../parts/visit-draft";
import styles from "./bench.module.css";
import type { JustSaved } from "./draft";

/** Seconds that a logged visit may be taken back. */
const minute = 60;

/** The visit is on record: said, taken back for a minute. */
export function Saved({
  saved,
  clear,
  change,
}: {
  saved: JustSaved;
  clear: () => void;
  change: (part: Partial<Draft>) => void;
}) {
  const { t } = useTranslation();
  const changed = useChanged();
  const left = useSecondsLeft(saved.at);
  const back = api.useMutation("post", "/api/v1/visits/{id}/taken-back", {
    onSuccess: () => {
      // What was typed stands again, as a visit of its own.
      change({ ...saved.draft, visitId: uuid(), closedAt: undefined, closing: false });
      clear();
      changed("pool");
    },
  });
  const problem = back.error as Problem | null;
  return (
    <div className={styles.saved} role="status" id="saved">
      <StateMark mark="fine" size={22} />
      <span>
        <b>{t("saved.said", { at: clock(saved.at) })}</b>{" "}
        <Link to={`/visits/${saved.visit}`}>{t("bench.openVisit")}</Link>
        {problem && <span className="field-says">{problem.detail ?? t("state.offline")}</span>}
      </span>
      {left > 0 && (
        <Button
          id="take-back"
          disabled={back.isPending}
          onClick={() => back.mutate({ params: { path: { id: saved.visit } } })}
        >
          {t("saved.takeBack", { count: left })}
        </Button>
      )}
    </div>
  );
}

/** Seconds that are left of the minute after a time. */
function useSecondsLeft(at: string): number {
  const leftNow = () => Math.ceil(minute - (now().getTime() - Date.parse(at)) / 1000);
  const [left, setLeft] = useState(leftNow);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a clock of its own
  useEffect(() => {
    const id = setInterval(() => setLeft(leftNow()), 1000);
    return () => clearInterval(id);
  }, [at]);
  return left;
}

/** The stop after this one on today's lap; undefined while it is not known, null when there is none. */
export function useNextStop(stop: string): { id: string; street: string } | null | undefined {
  const lap = api.useQuery("get", "/api/v1/lap", {}, { retry: false });
  if (!lap.data) return lap.isError ? null : undefined;
  const at = lap.data.stops.findIndex((s) => s.id === stop);
  const open = lap.data.stops.filter((s, i) => s.state !== "done" && s.id !== stop && (at < 0 || i > at));
  return open[0] ?? lap.data.stops.find((s) => s.state !== "done" && s.id !== stop) ?? null;
}
