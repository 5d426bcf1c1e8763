import { Button, Dropdown, type MenuProps } from "antd";
import { createContext, useContext } from "react";
import { useTranslation } from "react-i18next";
import type { WeekView } from "../../api/client";
import { planDay } from "../../parts/format";
import { Tool } from "../../parts/glyphs";
import { type Load, type Place, takes } from "./drag";
import styles from "./week.module.css";

/** The week that is shown, and how something in it is moved. */
export const MoveContext = createContext<{ week: WeekView; move: (load: Load, place: Place) => void } | null>(null);

/** Moves a stop or a piece of work without a drag: by a tap or by the keys. */
export function MoveTo({ load, what }: { load: Load; what: string }) {
  const { t } = useTranslation();
  const at = useContext(MoveContext);
  if (!at) return null;
  const { week, move } = at;
  const dates = [...new Set([...week.days.map((d) => d.date), ...week.strip.map((d) => d.date)])].sort();
  const days = dates.map((date) => ({ date })).filter((place) => takes(load, place));
  const others = load.due
    ? []
    : week.people
        .filter((p) => p.id !== load.technicianId)
        .map((p) => ({ date: load.date, technicianId: p.id, name: p.name }))
        .filter((place) => takes(load, place));
  if (days.length + others.length === 0) return null;
  const items: MenuProps["items"] = [
    ...days.map((place) => ({ key: place.date, label: planDay(place.date), onClick: () => move(load, place) })),
    ...(others.length ? [{ type: "divider" as const }] : []),
    ...others.map(({ name, ...place }) => ({
      key: place.technicianId,
      label: t("week.giveTo", { who: name }),
      onClick: () => move(load, place),
    })),
  ];
  return (
    <Dropdown trigger={["click"]} menu={{ items, className: styles.menu }} placement="bottomRight">
      <Button
        type="text"
        className={`${styles.move} no-print`}
        data-move={what}
        aria-label={t("week.moveTo", { what })}
        icon={<Tool name="right" size={18} />}
      />
    </Dropdown>
  );
}
