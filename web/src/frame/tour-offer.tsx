import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { overLater } from "../parts/later";
import { useMe } from "./me";
import styles from "./tour.module.css";

const Tour = overLater(() => import("./tour"));

const seenKey = (who: string) => `fairlap.tour.${who}`;

/** An offer to be shown round, until it is taken or waved off: never in the way of the work. */
export function TourOffer() {
  const { t } = useTranslation();
  const me = useMe();
  const kind = me.role === "technician" ? "technician" : "desk";
  const [seen, setSeen] = useState(() => localStorage.getItem(seenKey(me.id)) !== null);
  const [open, setOpen] = useState(false);
  const done = () => {
    setOpen(false);
    setSeen(true);
    try {
      localStorage.setItem(seenKey(me.id), "seen");
    } catch {
      // Storage is shut: it is offered again the next time.
    }
  };
  if (seen) return null;
  return (
    <aside className={`${styles.offer} no-print`} id="tour-offer" aria-label={t("tour.offer")}>
      <span>{t("tour.offer")}</span>
      <Button size="small" id="tour-start" onClick={() => setOpen(true)}>
        {t("tour.start")}
      </Button>
      <Button size="small" type="link" id="tour-skip" onClick={done}>
        {t("tour.skip")}
      </Button>
      <Tour kind={kind} open={open} onDone={done} />
    </aside>
  );
}
