import { useQueries } from "@tanstack/react-query";
import { Pagination, Progress } from "antd";
import { type ReactNode, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, type LapView } from "../../api/client";
import { Page } from "../../frame/page";
import { today } from "../../parts/clock";
import { clock, money, percent, shortDay } from "../../parts/format";
import { GoButton } from "../../parts/go-button";
import { Loading, Trouble } from "../../parts/quiet-states";
import { StateMark } from "../../parts/state-mark";
import styles from "./company-today.module.css";
import { FirstSteps, NoLap } from "./first-steps";

/** Lines of each list that stand here; the rest is a tap away. */
const few = 6;
/** People whose day stands here at once: each is a lap of its own. */
const peopleShown = 12;

/** The first day of the quarter that a day is in. */
const quarterOf = (day: string) => {
  const [year, month] = day.split("-").map(Number);
  return `${year}-${String(3 * Math.floor((month - 1) / 3) + 1).padStart(2, "0")}-01`;
};

/** The company's day: who is where, what slid, what is over its limit or left open, what parts cost. */
export default function CompanyToday() {
  const { t } = useTranslation();
  const people = api.useQuery("get", "/api/v1/technicians");
  const [page, setPage] = useState(1);
  const shown = (people.data ?? []).slice((page - 1) * peopleShown, page * peopleShown);
  const laps = useQueries({
    queries: shown.map((p) => ({
      ...api.queryOptions("get", "/api/v1/lap", { params: { query: { technician: p.id } } }),
      retry: false,
    })),
  });
  if (!people.data) {
    return (
      <Page title={t("company.title")}>
        {people.isError ? <Trouble error={people.error} onRetry={() => people.refetch()} /> : <Loading />}
      </Page>
    );
  }
  const out = shown.map((p, i) => ({ person: p, lap: laps[i]?.data }));
  const settled = laps.every((l) => !l.isPending);
  // Of more people than a page, those on another may have stops.
  if (settled && people.data.length <= peopleShown && out.every((o) => !o.lap)) {
    return (
      <Page title={t("company.title")}>
        <FirstSteps />
        <NoLap />
      </Page>
    );
  }
  return (
    <Page title={t("company.title")} acts={<GoButton to="/week">{t("nav.week")}</GoButton>}>
      <FirstSteps />
      <div className={styles.company} id="company">
        <section className={styles.people} aria-labelledby="company-people">
          <h2 id="company-people">{t("company.who")}</h2>
          {!settled && <Loading rows={shown.length} />}
          <ul className={styles.out}>
            {out.map(({ person, lap }) => (
              <Whereabouts key={person.id} id={person.id} name={person.name} lap={lap} />
            ))}
          </ul>
          <Pagination
            align="end"
            current={page}
            pageSize={peopleShown}
            total={people.data.length}
            showSizeChanger={false}
            hideOnSinglePage
            onChange={setPage}
          />
        </section>
        <Slid laps={out.flatMap((o) => (o.lap ? [o.lap] : []))} />
        <PoolsThat only="over" title={t("company.over")} none={t("company.noneOver")} />
        <PoolsThat only="open" title={t("company.open")} none={t("company.noneOpen")} />
        <PoolsThat only="danger" title={t("company.dangers")} none={t("company.noDangers")} />
        <Parts />
      </div>
    </Page>
  );
}

/** One technician's day: how far, where now, minutes left. */
function Whereabouts({ id, name, lap }: { id: string; name: string; lap?: LapView }) {
  const { t } = useTranslation();
  if (!lap) {
    return (
      <li>
        <b>{name}</b> <span className="quiet">{t("company.noStops")}</span>
      </li>
    );
  }
  const done = lap.stops.filter((s) => s.state === "done").length;
  const here = lap.stops.find((s) => s.state === "here");
  const spare = lap.limitMinutes - lap.minutes;
  return (
    <li data-whose={name}>
      <Link to={`/days/${id}`}>
        <b>{name}</b>
      </Link>
      <Progress
        percent={Math.round((100 * done) / Math.max(1, lap.stops.length))}
        showInfo={false}
        strokeColor="var(--ink)"
        railColor="var(--paper-deep)"
        strokeLinecap="butt"
        aria-label={t("company.done", { done, of: lap.stops.length })}
      />
      <span>
        {t("company.done", { done, of: lap.stops.length })}
        {here && ` · ${t("company.at", { street: here.street, at: clock(here.plannedAt) })}`}
      </span>
      <span className="state-line">
        <StateMark mark={spare >= 0 ? "fine" : "act"} size={14} />
        {t(spare >= 0 ? "lap.spare" : "lap.over", { count: Math.abs(spare) })}
      </span>
    </li>
  );
}

function Card({ title, id, children }: { title: string; id: string; children: ReactNode }) {
  return (
    <section className={styles.card} aria-labelledby={`${id}-head`} id={id}>
      <h2 id={`${id}-head`}>{title}</h2>
      {children}
    </section>
  );
}

const None = ({ says }: { says: string }) => (
  <p className="state-line">
    <StateMark mark="fine" /> {says}
  </p>
);

function Slid({ laps }: { laps: LapView[] }) {
  const { t } = useTranslation();
  const slid = laps.flatMap((l) => l.slid);
  return (
    <Card id="company-slid" title={t("company.slid")}>
      {slid.length === 0 && <None says={t("company.noneSlid")} />}
      <ul>
        {slid.slice(0, few).map((s) => (
          <li key={`${s.street}${s.name}`}>{t("lap.slid", { ...s, to: shortDay(new Date(s.to)) })}</li>
        ))}
      </ul>
      {slid.length > few && <Link to="/week">{t("company.all", { count: slid.length })}</Link>}
    </Card>
  );
}

/** Pools that are over their limit, that have a suspect open, or work that endangers somebody. */
function PoolsThat({ only, title, none }: { only: "over" | "open" | "danger"; title: string; none: string }) {
  const { t } = useTranslation();
  const pools = api.useQuery("get", "/api/v1/pools", {
    params: { query: { only, size: few, sort: only === "over" ? "-load" : "pool" } },
  });
  return (
    <Card id={`company-${only}`} title={title}>
      {!pools.data && <Loading rows={3} />}
      {pools.data?.total === 0 && <None says={none} />}
      <ul>
        {pools.data?.items.map((p) => (
          <li key={p.id} className={only === "danger" ? "state-line" : undefined}>
            {only === "danger" && <StateMark mark="stop" />}
            <Link to={`/pools/${p.id}${only === "danger" ? "/due" : ""}`}>{p.street}</Link>{" "}
            {only === "danger" && p.danger}
            {only === "over" && p.load != null && (
              <>
                <span className="exp">{percent(p.load)}</span> %
              </>
            )}
            {only === "open" && p.open} <span className="quiet">{p.technician}</span>
          </li>
        ))}
      </ul>
      {pools.data && pools.data.total > few && (
        <Link to={`/pools?only=${only}`}>{t("company.all", { count: pools.data.total })}</Link>
      )}
    </Card>
  );
}

function Parts() {
  const { t } = useTranslation();
  const parts = api.useQuery("get", "/api/v1/parts", {
    params: { query: { since: quarterOf(today()), sort: "age", size: few } },
  });
  return (
    <Card id="company-parts" title={t("company.parts")}>
      {!parts.data && <Loading rows={3} />}
      {parts.data && (
        <p>
          <b>{t("company.partsSum", { count: parts.data.total })}</b>
          {parts.data.worth != null && ` ${t("company.partsCost", { cost: money(parts.data.worth) })}`}
        </p>
      )}
      <ul>
        {parts.data?.items.map((p) => (
          <li key={p.id}>
            <Link to={`/pools/${p.poolId}/parts/${p.id}`}>
              {p.name} {p.model}
            </Link>{" "}
            <span className="quiet">{p.street}</span>
          </li>
        ))}
      </ul>
    </Card>
  );
}
