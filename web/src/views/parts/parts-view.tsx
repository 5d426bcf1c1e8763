import { keepPreviousData } from "@tanstack/react-query";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, http, type PartLine } from "../../api/client";
import { Page } from "../../frame/page";
import { today } from "../../parts/clock";
import { date, money } from "../../parts/format";
import { type Column, ListFind, ListTable } from "../../parts/list-table";
import { Loading, Trouble } from "../../parts/quiet-states";
import { StateMark } from "../../parts/state-mark";
import { listSize, useList } from "../../parts/use-list";
import styles from "./parts.module.css";

const orders = ["due", "-due", "part", "-part", "pool", "-pool", "age", "-age", "cost", "-cost"] as const;

/** Parts across all pools: whose life ends when, found by a few letters. */
export default function PartsView() {
  const { t } = useTranslation();
  const ask = useList(orders);
  const parts = api.useQuery(
    "get",
    "/api/v1/parts",
    { params: { query: { find: ask.find, sort: ask.sort, page: ask.page, size: listSize } } },
    { placeholderData: keepPreviousData },
  );
  const due = (p: PartLine) => (
    <>
      {p.dueOn && p.dueOn <= today() && <StateMark mark="act" />} {p.dueOn ? date(p.dueOn) : "–"}
    </>
  );
  const columns: Column<PartLine>[] = [
    {
      key: "part",
      title: t("parts.part"),
      sorts: true,
      phone: true,
      text: (p) => [p.name, p.model, p.serial].filter(Boolean).join(" "),
      cell: (p) => (
        <Link to={`/pools/${p.poolId}/parts/${p.id}`}>
          <b>{p.name}</b>
          <span>{[p.model, p.serial].filter(Boolean).join(", ")}</span>
          <span className="only-phone">{p.street}</span>
        </Link>
      ),
    },
    {
      key: "pool",
      title: t("lap.pool"),
      sorts: true,
      text: (p) => p.street,
      cell: (p) => <Link to={`/pools/${p.poolId}`}>{p.street}</Link>,
    },
    { key: "due", title: t("parts.dueOn"), sorts: true, phone: true, text: (p) => p.dueOn, cell: due },
    {
      key: "age",
      title: t("parts.age"),
      sorts: true,
      text: (p) => p.ageYears?.toFixed(1),
      cell: (p) => `${p.ageYears?.toFixed(1) ?? "–"} ${t("record.of")} ${p.expectedYears ?? "–"} ${t("record.years")}`,
    },
    {
      key: "cost",
      title: t("parts.field.cost"),
      sorts: true,
      end: true,
      text: (p) => p.cost,
      cell: (p) => (p.cost == null ? "–" : money(p.cost)),
    },
  ];
  return (
    <Page title={t("parts.title")}>
      {parts.isError && !parts.data && <Trouble error={parts.error} onRetry={() => parts.refetch()} />}
      {parts.isPending && <Loading />}
      {parts.data && (
        <>
          <p className={styles["parts-sum"]} id="parts-sum">
            {t("parts.sum", { count: parts.data.total, late: parts.data.late })}
            {parts.data.worth != null && ` ${t("parts.worth", { cost: money(parts.data.worth) })}`}
          </p>
          <ListTable
            name="parts-table"
            rows={parts.data.items}
            total={parts.data.total}
            columns={columns}
            ask={ask}
            busy={parts.isPlaceholderData}
            tools={<ListFind id="find-part" label={t("parts.find")} ask={ask} />}
            all={async (page, size) => {
              const { data } = await http.GET("/api/v1/parts", {
                params: { query: { find: ask.find, sort: ask.sort, page, size } },
              });
              if (!data) throw new Error("the list did not come");
              return data;
            }}
            empty={t(ask.find ? "parts.noneFound" : "parts.none")}
          />
        </>
      )}
    </Page>
  );
}
