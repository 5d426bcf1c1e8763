import { keepPreviousData } from "@tanstack/react-query";
import { useTranslation } from "react-i18next";
import { Link, useLocation } from "react-router";
import { api, type PoolLine } from "../../api/client";
import { Page } from "../../frame/page";
import { day, percent } from "../../parts/format";
import { GoButton } from "../../parts/go-button";
import { type Column, ListFind, ListTable } from "../../parts/list-table";
import { Loading, Trouble } from "../../parts/quiet-states";
import { StateMark } from "../../parts/state-mark";
import { listSize, useList } from "../../parts/use-list";

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

/** The pools that one may see: found, sorted and paged by the server. */
export default function PoolsView() {
  const { t } = useTranslation();
  const ask = useList(orders);
  const asked = (useLocation().state as { find?: boolean } | null)?.find;
  const pools = api.useQuery(
    "get",
    "/api/v1/pools",
    { params: { query: { find: ask.find, sort: ask.sort, page: ask.page, size: listSize } } },
    { placeholderData: keepPreviousData },
  );
  const left = (p: PoolLine) => (p.daysLeft == null ? "–" : t("pools.days", { count: Math.round(p.daysLeft) }));
  const columns: Column<PoolLine>[] = [
    {
      key: "pool",
      title: t("lap.pool"),
      sorts: true,
      phone: true,
      cell: (p) => (
        <Link to={p.archived ? `/pools/${p.id}/about` : `/pools/${p.id}`}>
          <b>{p.street}</b>
          <span>
            {p.archived && `${t("pools.archived")} `}
            {p.part || p.customer || p.equipment}
          </span>
          {p.open && (
            <span className="only-phone why">
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
    { key: "days", title: t("pools.daysLeft"), sorts: true, cell: left },
    {
      key: "open",
      title: t("pools.open"),
      cell: (p) =>
        p.open && (
          <span className="why">
            <StateMark mark="open" /> {p.open}
          </span>
        ),
    },
    {
      key: "visited",
      title: t("pools.lastVisit"),
      sorts: true,
      cell: (p) => (p.lastVisit ? day(p.lastVisit) : t("pools.never")),
    },
    { key: "technician", title: t("pools.technician"), sorts: true, cell: (p) => p.technician },
  ];
  return (
    <Page>
      <header className="top">
        <h1>{t("pools.title")}</h1>
        <GoButton id="take-on" to="/pools/new">
          {t("pools.takeOn")}
        </GoButton>
        <GoButton type="link" to="/parts">
          {t("parts.title")}
        </GoButton>
        <GoButton type="link" to="/cleaning">
          {t("cleaningSettings.title")}
        </GoButton>
        <GoButton type="link" to="/track-record">
          {t("track.title")}
        </GoButton>
        <ListFind id="find-pool" label={t("pools.find")} ask={ask} focused={asked} />
      </header>
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
          empty={t(ask.find ? "pools.noneFound" : "pools.none")}
        />
      )}
    </Page>
  );
}
