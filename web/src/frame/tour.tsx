import { Button, Tour as KitTour } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useMe } from "./me";
import styles from "./tour.module.css";

/** What is shown to whom, in order: where it is, and its words in the catalogue. */
const stepsOf = {
  technician: [
    { at: "#stops", say: "stops" },
    { at: "#go-on", say: "goOn" },
    { at: "#bar, #side nav", say: "bar" },
    { at: "#more", say: "more" },
  ],
  desk: [
    { at: "#company", say: "company" },
    { at: "#side nav, #bar", say: "places" },
    { at: "#find, #more", say: "find" },
  ],
} as const;

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
      <KitTour
        open={open}
        onClose={done}
        onFinish={done}
        steps={stepsOf[kind].map(({ at, say }) => ({
          title: t(`tour.${say}.title`),
          description: t(`tour.${say}.what`),
          target: () => document.querySelector<HTMLElement>(at) ?? document.body,
        }))}
      />
    </aside>
  );
}
