import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { LapView } from "../../api/client";
import { Tool } from "../../parts/glyphs";
import { overLater } from "../../parts/later";

const DayOrderSheet = overLater(() => import("./day-order-sheet"));

/** The way to the day's map and order. */
export function DayOrder({ lap }: { lap: LapView }) {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button id="day-order" className="no-print" onClick={() => setOpen(true)}>
        <Tool name="map" /> {t("order.open")}
      </Button>
      <DayOrderSheet lap={lap} open={open} onClose={() => setOpen(false)} />
    </>
  );
}
