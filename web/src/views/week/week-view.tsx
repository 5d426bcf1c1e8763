import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { v7 as uuid } from "uuid";
import { api, type Problem, type WeekView as Week } from "../../api/client";
import { chance, day, now } from "../../parts/format";
import type { FrameProps } from "../../parts/frame";
import { Materials } from "../../parts/materials";
import { Loading, Trouble } from "../../parts/quiet-states";
import { StateMark } from "../../parts/state-mark";
import { Strip } from "../../parts/strip";
import { CalendarAddress } from "./calendar-address";

type Day = Week["days"][number];
type Stop = Day["stops"][number];
type Due = Stop["due"][number];

/** The days to come: stops, due work, minutes against the day's limit, and what slid and why. */
export function WeekView(frame: FrameProps) {
  const { t } = useTranslation();
  const [weeks, setWeeks] = useState(2);
  const week = api.useQuery("get", "/api/week", { params: { query: { weeks } } });
  return (
    <div className="frame plain">
      <Strip {...frame} />
      <main className="whole">
        <header className="top">
          <h1>{t("week.title")}</h1>
          <fieldset className="filters">
            <legend className="sr">{t("week.howFar")}</legend>
            {[1, 2, 4, 6].map((n) => (
              <button key={n} type="button" aria-pressed={n === weeks} onClick={() => setWeeks(n)}>
                {t("week.weeks", { count: n })}
              </button>
            ))}
          </fieldset>
          <a className="btn plain" href="/api/due.csv" download>
            {t("week.file")}
          </a>
        </header>
        {week.isError && !week.data && <Trouble error={week.error} onRetry={() => week.refetch()} />}
        {week.isPending && <Loading />}
        {week.data && <Board week={week.data} />}
      </main>
    </div>
  );
}

function Board({ week }: { week: Week }) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [moved, setMoved] = useState<{ stop: Stop; due: Due; to: string } | null>(null);
  const mark = api.useMutation("post", "/api/pools/{id}/due-marks");
  const problem = mark.error as Problem | null;
  const move: Move = (stop, due, to) =>
    mark.mutate(
      {
        params: { path: { id: stop.poolId } },
        body: { id: uuid(), item: due.item, act: to ? "snooze" : "resume", until: to ?? undefined, reason: "" },
      },
      {
        onSuccess: () => {
          setMoved(to ? { stop, due, to } : null);
          queries.invalidateQueries();
        },
      },
    );
  return (
    <div className="week">
      {moved && (
        <p className="state-line moved" role="status">
          <StateMark mark="fine" />
          <span>{t("week.moved", { street: moved.stop.street, name: moved.due.name, to: day(moved.to) })}</span>
          <button type="button" className="btn small" id="undo-move" onClick={() => move(moved.stop, moved.due)}>
            {t("week.undo")}
          </button>
        </p>
      )}
      {problem && (
        <p className="state-line" role="alert">
          <StateMark mark="act" />
          <span>{problem.detail ?? t("state.offline")}</span>
        </p>
      )}
      {week.days.length === 0 && <p className="empty">{t("week.none")}</p>}
      <div className="week-days">
        {week.days.map((d) => (
          <DayColumn key={d.date + d.technician} day={d} onMove={move} />
        ))}
      </div>
      {week.later.length > 0 && (
        <section aria-labelledby="later-head">
          <h2 id="later-head">{t("week.later")}</h2>
          <ul className="marks">
            {week.later.map((l) => (
              <li key={l.poolId + l.due.item}>
                <StateMark mark="hold" /> <Link to={`/pools/${l.poolId}/due`}>{l.street}</Link>: {l.due.name}
                {l.due.hold && <span className="quiet"> {l.due.hold.why}</span>}
              </li>
            ))}
          </ul>
        </section>
      )}
      <CalendarAddress />
    </div>
  );
}

/** Puts work off to a visit, or takes that back. */
type Move = (stop: Stop, due: Due, to?: string | null) => void;

function DayColumn({ day: d, onMove }: { day: Day; onMove: Move }) {
  const { t } = useTranslation();
  const over = d.minutes > d.limit;
  return (
    <section className="week-day" data-day={d.date.slice(0, 10)} data-technician={d.technician}>
      <h2>
        {day(d.date)}
        {day(d.date) === day(now()) && <em> {t("week.today")}</em>}
        <span className="quiet"> {d.technician}</span>
      </h2>
      <p className="state-line">
        <StateMark mark={over ? "act" : "fine"} />
        <span>
          <span className="n">{Math.round(d.minutes)}</span> {t("week.of", { limit: d.limit })}
        </span>
      </p>
      <meter className="day-meter" min={0} max={d.limit} value={Math.min(d.limit, d.minutes)}>
        {Math.round(d.minutes)}
      </meter>
      <ol>
        {d.stops.map((s) => (
          <li key={s.poolId} data-stop={s.street}>
            <Link to={`/pools/${s.poolId}/due`}>{s.street}</Link>{" "}
            <span className="quiet">{t("due.minutes", { n: s.base })}</span>
            {s.due.map((w) => (
              <Work key={w.item} stop={s} due={w} onMove={onMove} />
            ))}
          </li>
        ))}
      </ol>
      {d.slid.map((s) => (
        <p key={s.street + s.name} className="slid" data-slid={s.street}>
          <StateMark mark="hold" />
          <span>
            <b>{t("week.slid", { street: s.street, name: s.name, to: day(s.to) })}</b> {s.why}
          </span>
        </p>
      ))}
    </section>
  );
}

function Work({ stop, due: w, onMove }: { stop: Stop; due: Due; onMove: Move }) {
  const { t } = useTranslation();
  return (
    <p className="week-work">
      <StateMark mark={w.harm > 0.5 ? "act" : "job"} />
      <span>
        {w.name} <span className="quiet">{t("due.minutes", { n: w.minutes })}</span>
        {w.ground === "load" && <span className="quiet"> · {t("week.chance", { p: chance(w.harm) })}</span>}
        {w.materials.length > 0 && <br />}
        <Materials list={w.materials} />
        {stop.next && !w.snoozed && (
          <button type="button" className="as-table" data-move={w.item} onClick={() => onMove(stop, w, stop.next)}>
            {t("week.move", { to: day(stop.next) })}
          </button>
        )}
        {w.snoozed && (
          <button type="button" className="as-table" data-back={w.item} onClick={() => onMove(stop, w)}>
            {t("week.back")}
          </button>
        )}
      </span>
    </p>
  );
}
