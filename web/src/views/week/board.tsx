import { useDndContext, useDraggable, useDroppable } from "@dnd-kit/core";
import { Button, Pagination, Segmented } from "antd";
import { Fragment, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { Person, WeekView } from "../../api/client";
import { Choice } from "../../parts/choice";
import { today } from "../../parts/clock";
import { chance, clock, day, planDay } from "../../parts/format";
import { Tool } from "../../parts/glyphs";
import { Materials } from "../../parts/materials";
import { StateMark } from "../../parts/state-mark";
import { useWide } from "../../parts/use-wide";
import { type Day, type Due, type Load, loadOf, type Place, type Stop, takes } from "./drag";
import { MoveContext, MoveTo } from "./move-to";
import styles from "./week.module.css";

/** Whose rows are shown: one's alone, or a page of all. */
export interface PeopleShown {
  page: number;
  onPage: (page: number) => void;
  whose: string;
  onWhose: (id: string) => void;
}

/** Days as columns, a row for each technician. */
export function WeekBoard({
  week,
  desk,
  drivers,
  people,
  onLeave,
  onMove,
  onGive,
}: {
  week: WeekView;
  desk: boolean;
  drivers: Person[];
  people: PeopleShown;
  onLeave: (id: string) => void;
  onMove: (load: Load, place: Place) => void;
  onGive: (load: Load) => void;
}) {
  const { t } = useTranslation();
  const wide = useWide();
  const [chosen, setChosen] = useState("");
  const all = [...new Set(week.days.map((d) => d.date))].sort();
  // A phone shows one day at a time.
  const shown = all.includes(chosen) ? chosen : (all.find((d) => d >= today()) ?? all[0]);
  const dates = wide ? all : all.filter((d) => d === shown);
  const rows = week.rows.map((r) => (r.id === "" ? { id: "", name: t("week.nobody") } : r));
  if (week.days.length === 0 && week.total <= week.size && !people.whose)
    return <p className="empty">{t("week.none")}</p>;
  return (
    <MoveContext value={{ week, drivers, move: onMove, give: onGive }}>
      <div className={`${styles.narrow} no-print`}>
        {desk && week.total > 1 && (
          <Choice
            id="week-whose"
            label={t("pools.technician")}
            value={people.whose}
            options={[
              { value: "", label: t("week.everybody") },
              ...drivers.map((p) => ({ value: p.id, label: p.name })),
            ]}
            onChange={people.onWhose}
          />
        )}
        {!wide && (
          <Segmented
            id="week-days"
            className={styles.days}
            aria-label={t("week.day")}
            value={shown}
            options={all.map((d) => ({ value: d, label: planDay(d).split(" ").slice(0, 2).join(" ") }))}
            onChange={setChosen}
          />
        )}
      </div>
      <div className={styles.board} style={{ "--days": dates.length } as React.CSSProperties}>
        <span className={styles.corner} />
        {dates.map((date) => (
          <h2 key={date} className={styles["day-head"]}>
            {planDay(date)}
            {date === today() && <em> {t("week.today")}</em>}
          </h2>
        ))}
        {rows.map((p) => (
          <Fragment key={p.id}>
            <div className={styles.who}>
              <h3>{p.name}</h3>
              {p.id === "" && <StateMark mark="act" />}
              {desk && p.id !== "" && (
                <Button type="link" data-leaves={p.name} onClick={() => onLeave(p.id)}>
                  {t("week.leaves")}
                </Button>
              )}
            </div>
            {dates.map((date) => (
              <DayCell
                key={date}
                date={date}
                person={p}
                day={week.days.find((d) => d.date === date && d.technicianId === p.id)}
              />
            ))}
          </Fragment>
        ))}
      </div>
      {!people.whose && (
        <Pagination
          className="no-print"
          align="end"
          current={people.page}
          pageSize={week.size}
          total={week.total}
          showSizeChanger={false}
          hideOnSinglePage
          onChange={people.onPage}
        />
      )}
    </MoveContext>
  );
}

function DayCell({ date, person, day: d }: { date: string; person: { id: string; name: string }; day?: Day }) {
  const { t } = useTranslation();
  const place = { date, technicianId: person.id };
  const load = loadOf(useDndContext().active);
  const may = load !== undefined && takes(load, place);
  const { setNodeRef, isOver } = useDroppable({
    id: `cell|${date}|${person.id}`,
    data: { place },
    disabled: load !== undefined && !may,
  });
  const over = d !== undefined && d.minutes > d.limit;
  return (
    <section
      ref={setNodeRef}
      className={`${styles["week-day"]} ${may ? styles.may : ""} ${isOver && may ? "over" : ""}`}
      data-day={date}
      data-technician={person.name}
      aria-label={`${planDay(date)}, ${person.name}`}
    >
      <p className={styles["narrow-head"]} aria-hidden="true">
        <b>{planDay(date)}</b> <span className="quiet">{person.name}</span>
      </p>
      {!d && <p className="quiet">{t("week.free")}</p>}
      {d && (
        <>
          <p className="state-line">
            <StateMark mark={over ? "act" : "fine"} size={16} />
            <span>
              <span className="n">{Math.round(d.minutes)}</span> {t("week.of", { limit: d.limit })}
            </span>
          </p>
          <meter className={styles["day-meter"]} min={0} max={d.limit} value={Math.min(d.limit, d.minutes)}>
            {Math.round(d.minutes)}
          </meter>
          <ol>
            {d.stops.map((s) => (
              <StopCard key={s.poolId} stop={s} day={d} />
            ))}
          </ol>
          {d.slid.map((s) => (
            <p key={s.street + s.name} className={styles.slid} data-slid={s.street}>
              <StateMark mark="hold" size={16} />
              <span>
                <b>{t("week.slid", { street: s.street, name: s.name, to: day(s.to) })}</b> {s.why}
              </span>
            </p>
          ))}
        </>
      )}
    </section>
  );
}

function StopCard({ stop: s, day: d }: { stop: Stop; day: Day }) {
  const { t } = useTranslation();
  const load: Load = { stop: s, date: d.date, technicianId: d.technicianId };
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, isDragging } = useDraggable({
    id: `stop|${s.poolId}|${d.date}`,
    data: { load },
  });
  return (
    <li ref={setNodeRef} data-stop={s.street} className={isDragging ? styles.lifted : ""}>
      <div className={styles["stop-line"]}>
        <button
          type="button"
          ref={setActivatorNodeRef}
          className={styles.grip}
          data-grip={s.street}
          {...attributes}
          {...listeners}
          aria-label={t("week.grip", { what: s.street })}
        >
          <Tool name="grip" size={18} />
        </button>
        <span>
          <Link to={`/pools/${s.poolId}/due`}>{s.street}</Link>
          <span className="quiet">
            {clock(s.arrive)} · {t("due.minutes", { n: s.base })}
            {s.moved && <b> {t("week.isMoved", { day: planDay(s.on) })}</b>}
          </span>
        </span>
        <MoveTo load={load} what={s.street} />
      </div>
      {s.due.map((w) => (
        <Work key={w.item} load={{ ...load, due: w }} due={w} />
      ))}
    </li>
  );
}

function Work({ load, due: w }: { load: Load; due: Due }) {
  const { t } = useTranslation();
  const { attributes, listeners, setNodeRef, isDragging } = useDraggable({
    id: `due|${load.stop.poolId}|${w.item}`,
    data: { load },
  });
  return (
    <div className={styles["work-line"]}>
      <button
        type="button"
        ref={setNodeRef}
        className={`${styles["week-work"]} ${isDragging ? styles.lifted : ""}`}
        data-work={w.item}
        {...attributes}
        {...listeners}
      >
        <StateMark mark={w.harm > 0.5 ? "act" : "job"} size={16} />
        <span>
          {w.name} <span className="quiet">{t("due.minutes", { n: w.minutes })}</span>
          {w.ground === "load" && <span className="quiet"> · {t("week.chance", { p: chance(w.harm) })}</span>}
          {w.planned && <b> {t("week.put")}</b>} <Materials list={w.materials} />
        </span>
      </button>
      <MoveTo load={load} what={`${load.stop.street}, ${w.name}`} />
    </div>
  );
}
