import { Button, Dropdown, type MenuProps } from "antd";
import { createContext, useContext } from "react";
import { useTranslation } from "react-i18next";
import type { Person, WeekView } from "../../api/client";
import { planDay } from "../../parts/format";
import { Tool } from "../../parts/glyphs";
import { type Load, type Place, takes } from "./drag";
import styles from "./week.module.css";

/** The week that is shown, who drives, and how something in it is moved or given to somebody who is looked for. */
export const MoveContext = createContext<{
  week: WeekView;
  drivers: Person[];
  move: (load: Load, place: Place) => void;
  give: (load: Load) => void;
} | null>(null);

/** From how many on people are looked for by name: the menu has those whose days are shown. */
const searchedFrom = 9;

/** Moves a stop or a piece of work without a drag: by a tap or by the keys. */
export function MoveTo({ load, what }: { load: Load; what: string }) {
  const { t } = useTranslation();
  const at = useContext(MoveContext);
  if (!at) return null;
  const { week, drivers, move, give } = at;
  const dates = [...new Set([...week.days.map((d) => d.date), ...week.strip.map((d) => d.date)])].sort();
  const days = dates.map((date) => ({ date })).filter((place) => takes(load, place));
  const many = drivers.length >= searchedFrom;
  const others = load.due
    ? []
    : drivers
        .filter((p) => p.id !== load.technicianId && (!many || week.rows.some((r) => r.id === p.id)))
        .map((p) => ({ date: load.date, technicianId: p.id, name: p.name }))
        .filter((place) => takes(load, place));
  if (days.length + others.length === 0 && (!many || load.due)) return null;
  const items: MenuProps["items"] = [
    ...days.map((place) => ({ key: place.date, label: planDay(place.date), onClick: () => move(load, place) })),
    ...(others.length ? [{ type: "divider" as const }] : []),
    ...others.map(({ name, ...place }) => ({
      key: place.technicianId,
      label: t("week.giveTo", { who: name }),
      onClick: () => move(load, place),
    })),
    ...(many && !load.due ? [{ key: "else", label: t("week.giveElse"), onClick: () => give(load) }] : []),
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
