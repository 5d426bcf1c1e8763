import type { UseQueryResult } from "@tanstack/react-query";
import { type ReactNode, useDeferredValue } from "react";
import { api, type LapView as Lap, type Problem } from "../../api/client";
import { useKeepFirst } from "../../kept/first";
import { Loading, Trouble } from "../../parts/quiet-states";
import { NoLap } from "./first-steps";
import styles from "./lap.module.css";
import { LapAtHand } from "./lap-at-hand";

/** The technician's own day, in order. */
export function MyLap() {
  const lap = api.useQuery("get", "/api/v1/lap", {});
  useKeepFirst(lap.data);
  return <LapFrame lap={lap} mine />;
}

/** A lap, or what stands where it is still to come or there is none. */
export function LapFrame({
  lap,
  mine,
  whose,
}: {
  lap: UseQueryResult<Lap, unknown>;
  mine: boolean;
  /** Whose day it is, where that can be chosen. */
  whose?: ReactNode;
}) {
  // Drawn in slices: a slow phone answers a finger meanwhile.
  const drawn = useDeferredValue(lap.data, undefined);
  const none = (lap.error as Problem | null)?.status === 404;
  return (
    <div className={`frame ${styles.lap}`}>
      {whose}
      {drawn ? (
        <LapAtHand lap={drawn} mine={mine} />
      ) : (
        <main className="whole" id="page">
          {none ? (
            <NoLap />
          ) : lap.isError ? (
            <Trouble error={lap.error} onRetry={() => lap.refetch()} />
          ) : (
            <Loading rows={9} />
          )}
        </main>
      )}
    </div>
  );
}
