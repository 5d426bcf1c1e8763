import { keepPreviousData } from "@tanstack/react-query";
import { Segmented } from "antd";
import { useTranslation } from "react-i18next";
import { Link, useLocation } from "react-router";
import { api, http, type PoolLine } from "../../api/client";
import { useMe } from "../../frame/me";
import { Page } from "../../frame/page";
import { Choice } from "../../parts/choice";
import { day, percent, weekdays } from "../../parts/format";
import { GoButton } from "../../parts/go-button";
import { type Column, ListFind, ListTable } from "../../parts/list-table";
import { Loading, Trouble } from "../../parts/quiet-states";
import { StateMark } from "../../parts/state-mark";
import { listSize, useList } from "../../parts/use-list";
import { Bulk } from "./bulk";
import styles from "./pools-view.module.css";

const orders = [
  "pool",
  "-pool",
  "load",
  "-load",
  "days",
  "-days",
  "visited",
  "-visited",
  "technician",
  "-technician",
] as const;
const narrows = ["technician", "weekday", "only"] as const;
const states = ["", "open", "over", "danger"] as const;

/** The pools that one may see: found, narrowed, sorted and paged by the server. */
export default function PoolsView() {
  const { t } = useTranslation();
  const desk = useMe().role !== "technician";
  const ask = useList(orders, narrows);
  const asked = (useLocation().state as { find?: boolean } | null)?.find;
  const { technician, weekday } = ask.filters;
  const only = states.find((s) => s === ask.filters.only) ?? "";
  const query = {
    find: ask.find,
    sort: ask.sort,
    technician: technician || undefined,
    weekday: weekday ? Number(weekday) : undefined,
    only: only || undefined,
  };
  const pools = api.useQuery(
    "get",
    "/api/v1/pools",
    { params: { query: { ...query, page: ask.page, size: listSize } } },
    { placeholderData: keepPreviousData },
  );
  const people = api.useQuery("get", "/api/v1/technicians", {}, { enabled: desk });
  const left = (p: PoolLine) => (p.daysLeft == null ? "–" : t("pools.days", { count: Math.round(p.daysLeft) }));
  const columns: Column<PoolLine>[] = [
    {
      key: "pool",
      title: t("lap.pool"),
      sorts: true,
      phone: true,
      text: (p) => p.street,
      cell: (p) => (
        <Link to={p.archived ? `/pools/${p.id}/about` : `/pools/${p.id}`}>
          <b>{p.street}</b>
          <span>
            {p.archived && `${t("pools.archived")} `}
            {p.part || p.customer || p.equipment}
          </span>
          {p.open && (
            <span className="only-phone">
              <StateMark mark="open" /> {p.open}
            </span>
          )}
        </Link>
      ),
    },
    {
      key: "load",
      title: t("lap.load"),
      sorts: true,
      phone: true,
      text: (p) => (p.load == null ? "" : Math.round(100 * p.load)),
      cell: (p) =>
        p.archived ? null : p.load == null ? (
          t("pools.notKnown")
        ) : (
          <>
            <span className="exp">{percent(p.load)}</span> %
            <span className="lbar ahead">
              <i style={{ width: `${Math.min(100, 100 * p.load)}%` }} />
            </span>
          </>
        ),
    },
    {
      key: "days",
      title: t("pools.daysLeft"),
      sorts: true,
      text: (p) => (p.daysLeft == null ? "" : Math.round(p.daysLeft)),
      cell: left,
    },
    {
      key: "open",
      title: t("pools.open"),
      text: (p) => p.open,
      cell: (p) =>
        p.open && (
          <span className="state-line">
            <StateMark mark="open" /> {p.open}
          </span>
        ),
    },
    {
      key: "visited",
      title: t("pools.lastVisit"),
      sorts: true,
      text: (p) => p.lastVisit?.slice(0, 10),
      cell: (p) => (p.lastVisit ? day(p.lastVisit) : t("pools.never")),
    },
    {
      key: "technician",
      title: t("pools.technician"),
      sorts: true,
      text: (p) => p.technician,
      cell: (p) => p.technician,
    },
  ];
  const narrow = (filters: Record<string, string>) => ask.change({ filters });
  const narrowed = Boolean(ask.find || technician || weekday || only);
  return (
    <Page
      title={t("pools.title")}
      acts={
        <>
          <GoButton id="take-on" to="/pools/new">
            {t("pools.takeOn")}
          </GoButton>
          {desk && (
            <GoButton id="import-pools" to="/import">
              {t("import.title")}
            </GoButton>
          )}
          <GoButton type="link" to="/parts">
            {t("parts.title")}
          </GoButton>
        </>
      }
    >
      {pools.isError && !pools.data && <Trouble error={pools.error} onRetry={() => pools.refetch()} />}
      {pools.isPending && <Loading />}
      {pools.data && (
        <ListTable
          name="pools"
          rows={pools.data.items}
          total={pools.data.total}
          columns={columns}
          ask={ask}
          busy={pools.isPlaceholderData}
          empty={t(narrowed ? "pools.noneFound" : "pools.none")}
          all={async (page, size) => {
            const { data } = await http.GET("/api/v1/pools", { params: { query: { ...query, page, size } } });
            if (!data) throw new Error("the list did not come");
            return data;
          }}
          bulk={
            desk ? (ticked, done) => <Bulk pools={ticked} technicians={people.data ?? []} onDone={done} /> : undefined
          }
          tools={
            <>
              <ListFind id="find-pool" label={t("pools.find")} ask={ask} focused={asked} />
              <Segmented
                id="pools-only"
                aria-label={t("pools.only.label")}
                value={only}
                options={states.map((s) => ({ value: s, label: t(`pools.only.${s || "all"}`) }))}
                onChange={(v) => narrow({ only: v })}
              />
              <span className={styles.narrows}>
                {desk && people.data && (
                  <Choice
                    id="pools-technician"
                    label={t("pools.technician")}
                    value={technician}
                    options={[
                      { value: "", label: t("pools.anybody") },
                      ...people.data.map((p) => ({ value: p.id, label: p.name })),
                    ]}
                    onChange={(v) => narrow({ technician: v })}
                  />
                )}
                <Choice
                  id="pools-weekday"
                  label={t("pools.weekday")}
                  value={weekday}
                  options={[
                    { value: "", label: t("pools.anyDay") },
                    ...weekdays().map((name, i) => ({ value: String(i), label: name })),
                  ]}
                  onChange={(v) => narrow({ weekday: v })}
                />
              </span>
            </>
          }
        />
      )}
    </Page>
  );
}
