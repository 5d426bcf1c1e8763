import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useNavigate } from "react-router";
import { api, type LapView as Lap, type Problem, type StopView } from "../../api/client";
import { Choice } from "../../parts/choice";
import { clock, now, percent, shortDay } from "../../parts/format";
import type { FrameProps } from "../../parts/frame";
import { Float, Tool } from "../../parts/glyphs";
import { Materials } from "../../parts/materials";
import { Loading, Trouble } from "../../parts/quiet-states";
import { StateMark } from "../../parts/state-mark";
import { Strip } from "../../parts/strip";
import { DayRule } from "./day-rule";
import { FirstSteps } from "./first-steps";
import { Shorten } from "./shorten";

/** A technician's day, in order; the desk chooses whose. */
export function LapView(frame: FrameProps) {
  const { t } = useTranslation();
  const mine = frame.me.role === "technician";
  const people = api.useQuery("get", "/api/v1/technicians", {}, { enabled: !mine });
  const [chosen, setChosen] = useState("");
  const technician = mine ? "" : chosen || people.data?.[0]?.id || "";
  const lap = api.useQuery("get", "/api/v1/lap", mine ? {} : { params: { query: { technician } } }, {
    enabled: mine || technician !== "",
  });
  const none = (lap.error as Problem | null)?.status === 404;
  return (
    <div className="frame lap">
      <Strip {...frame} />
      {!mine && (
        <header>
          <div className="whose">
            <label htmlFor="whose-lap">{t("lap.whose")}</label>
            <Choice
              id="whose-lap"
              value={technician}
              options={people.data?.map((p) => ({ value: p.id, label: p.name })) ?? []}
              onChange={setChosen}
            />
          </div>
        </header>
      )}
      {lap.data ? (
        <LapAtHand lap={lap.data} mine={mine} />
      ) : (
        <main className="whole">
          {none ? (
            <FirstSteps desk={!mine} />
          ) : lap.isError ? (
            <Trouble error={lap.error} onRetry={() => lap.refetch()} />
          ) : (
            <Loading />
          )}
        </main>
      )}
    </div>
  );
}

function LapAtHand({ lap, mine }: { lap: Lap; mine: boolean }) {
  const { t } = useTranslation();
  const spare = lap.limitMinutes - lap.minutes;
  const here = lap.stops.find((s) => s.state === "here");
  return (
    <>
      <header className="top">
        <h1>{mine ? t("lap.title") : lap.technician}</h1>
        <p className="sum">
          <b className="n">{Math.floor(lap.minutes / 60)}</b> h{" "}
          <b className="n">{String(lap.minutes % 60).padStart(2, "0")}</b>{" "}
          {t("lap.of", { h: Math.floor(lap.limitMinutes / 60), m: String(lap.limitMinutes % 60).padStart(2, "0") })}
          <span className="state">
            <StateMark mark={spare >= 0 ? "fine" : "act"} size={18} />
            {t(spare >= 0 ? "lap.spare" : "lap.over", { count: Math.abs(spare) })}
          </span>
        </p>
        {here && mine && (
          <Link className="btn main" to={`/stops/${here.id}`} id="go-on">
            {t("lap.goOn", { street: here.street })}
            <Tool name="right" />
          </Link>
        )}
      </header>
      <section className="day">
        <DayRule lap={lap} now={now()} />
      </section>
      <main className="table">
        <table className="tt">
          <thead>
            <tr>
              <th>
                <span className="sr">{t("lap.state")}</span>
              </th>
              <th className="t">{t("lap.arrive")}</th>
              <th>{t("lap.pool")}</th>
              <th>{t("lap.reason")}</th>
              <th>{t("lap.load")}</th>
              <th className="m">{t("lap.min")}</th>
            </tr>
          </thead>
          <tbody>
            {lap.stops.map((s) => (
              <StopRow key={s.id} stop={s} />
            ))}
          </tbody>
        </table>
        <p className="foot-note">
          <span className="fig">83</span> {t("lap.keyRead")}
          <span className="gap" />
          <span className="exp">64</span> {t("lap.keyExpected")}
        </p>
        {lap.van.length > 0 && (
          <section className="van" aria-labelledby="van-head">
            <h2 id="van-head">{t("lap.van")}</h2>
            <Materials list={lap.van} />
          </section>
        )}
        {lap.slid.map((s) => (
          <p className="quiet" key={`${s.street}${s.name}`}>
            {t("lap.slid", { ...s, to: shortDay(new Date(s.to)) })}
          </p>
        ))}
        <Shorten lap={lap} />
        <p className="papers">
          <a className="btn plain" id="lap-sheet" href={`/api/v1/laps/${lap.id}/sheet.pdf`} download>
            {t("lap.sheet")}
          </a>
          <button type="button" className="btn plain" onClick={() => window.print()}>
            {t("lap.print")}
          </button>
        </p>
      </main>
    </>
  );
}

function StopRow({ stop: s }: { stop: StopView }) {
  const { t } = useTranslation();
  const go = useNavigate();
  return (
    // The link inside is the keyboard's way; the row is only a larger target.
    <tr className={s.state} aria-current={s.state === "here" || undefined} onClick={() => go(`/stops/${s.id}`)}>
      <td className="fl">
        <Float state={s.state} />
        <span className="sr">{t(`stop.${s.state}`)}</span>
      </td>
      <td className="t">
        <span>{clock(s.plannedAt)}</span>
      </td>
      <td className="p">
        <Link to={`/stops/${s.id}`} data-stop={s.position}>
          <b>{s.street}</b>
          <span>{s.equipment}</span>
        </Link>
      </td>
      <td className="w">
        <span className="why">
          <StateMark mark={s.reason.mark} />
          <b>{s.reason.word}</b>
        </span>
        <span>{s.reason.detail}</span>
        {s.due.length > 0 && <span className="s-due">{t("lap.due", { what: s.due.join(", ") })}</span>}
      </td>
      <td className="l">
        {!s.measured && s.load > 1 ? (
          <span className="exp">{t("lap.loadOver")}</span>
        ) : (
          <>
            <span className={s.measured ? "fig" : "exp"}>{percent(s.load)}</span> %
          </>
        )}
        <span className={`lbar ${s.measured ? "" : "ahead"}`}>
          <i style={{ width: `${Math.min(100, 100 * s.load)}%` }} />
        </span>
      </td>
      <td className="m">{s.minutes}</td>
    </tr>
  );
}
