import { useSyncExternalStore } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { useMe } from "../../frame/me";
import { Page } from "../../frame/page";
import { useReceipt } from "../../kept/receipts";
import { useRoom } from "../../kept/room";
import { isKeeping, onKept } from "../../kept/store";
import { useWaiting, type Waits } from "../../kept/waiting";
import { figure } from "../../parts/format";
import { StateMark } from "../../parts/state-mark";
import { waitsFor } from "../../parts/waits-for";
import { Stays } from "./stays";
import styles from "./waiting-view.module.css";
import { WayOn } from "./way-on";

/** Where each is gone on with; a picture's place is its pool's. */
const at = {
  visit: (w: Waits) => `/stops/${w.id}`,
  run: (w: Waits) => `/runs/${w.id}`,
  inspection: (w: Waits) => `/inspections/${w.id}`,
  photo: (w: Waits) => `/pools/${w.pool}/about`,
  practice: (w: Waits) => `/practice/${w.id}`,
  change: (w: Waits) => `/pools/${w.pool}`,
};

/** What this device has and the server has not: each with the way to it. */
export default function WaitingView() {
  const { t } = useTranslation();
  const waits = useWaiting();
  const me = useMe();
  const room = useRoom();
  const receipt = useReceipt();
  const keeping = useSyncExternalStore(onKept, isKeeping);
  return (
    <Page title={t("waiting.title")}>
      <div className={styles.waiting}>
        <p className={styles.sum} id="waits" data-count={waits.length}>
          <StateMark mark={waits.length ? "act" : "fine"} size={22} />
          <b>{waits.length ? t("waiting.count", { count: waits.length }) : t("waiting.none")}</b>
        </p>
        <p className="quiet">{t(waits.length ? "waiting.how" : "waiting.noneWhat")}</p>
        {receipt && receipt.of > 0 && (
          <p className={styles.sum} id="receipt" data-has={receipt.has} data-of={receipt.of}>
            <StateMark mark={receipt.has < receipt.of ? "act" : "fine"} size={22} />
            {t(receipt.has < receipt.of ? "waiting.receiptLost" : "waiting.receipt", { ...receipt })}
          </p>
        )}
        {(!keeping || room?.scarce) && (
          <p className="state-line" role="alert" id="no-room">
            <StateMark mark="stop" />
            {t(keeping ? "waiting.scarce" : "waiting.full")}
          </p>
        )}
        <ul>
          {waits.map((w) => (
            <li key={`${w.kind}${w.who}${w.id}`} data-waits={w.kind}>
              {w.who === me.id ? (
                <Link to={at[w.kind](w)}>
                  <b>{waitsFor(t, w)}</b>
                  {w.street && <span>{w.street}</span>}
                </Link>
              ) : (
                <p>
                  <b>{waitsFor(t, w)}</b> {w.street} <span className="quiet">{t("waiting.others")}</span>
                </p>
              )}
              {w.refused && <span className="field-says">{t("waiting.refused", { says: w.refused })}</span>}
              {w.refused && w.who === me.id && <WayOn waits={w} />}
              {!w.refused && w.who === me.id && <Stays waits={w} all={waits} />}
            </li>
          ))}
        </ul>
        {room && (
          <p className="quiet" id="room">
            {t("waiting.room", { used: figure(room.used, "MB"), of: figure(room.of, "MB") })}
          </p>
        )}
      </div>
    </Page>
  );
}
