import { keepPreviousData } from "@tanstack/react-query";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, type RunLine } from "../../api/client";
import { Page } from "../../frame/page";
import { clock, day } from "../../parts/format";
import { type Column, ListFind, ListTable } from "../../parts/list-table";
import { Loading, Trouble } from "../../parts/quiet-states";
import { StateMark } from "../../parts/state-mark";
import { listSize, useList } from "../../parts/use-list";

const orders = ["started"] as const;

/** Guided work under way and over, newest first. */
export default function RunsView() {
  const { t } = useTranslation();
  const ask = useList(orders);
  const runs = api.useQuery(
    "get",
    "/api/v1/runs",
    { params: { query: { find: ask.find, page: ask.page, size: listSize } } },
    { placeholderData: keepPreviousData },
  );
  const stands = (r: RunLine) =>
    r.ended
      ? r.why || t("runs.done", { at: clock(r.ended) })
      : t(r.left ? "runs.left" : "runs.going", { n: r.step, of: r.of });
  const columns: Column<RunLine>[] = [
    {
      key: "work",
      title: t("runs.work"),
      phone: true,
      cell: (r) => (
        <Link to={`/runs/${r.id}`}>
          <b>{r.name}</b>
          <span>{r.street}</span>
        </Link>
      ),
    },
    {
      key: "stands",
      title: t("runs.stands"),
      phone: true,
      cell: (r) => (
        <span className="state-line">
          <StateMark mark={r.ended ? (r.why ? "open" : "fine") : r.left ? "hold" : "act"} /> {stands(r)}
        </span>
      ),
    },
    { key: "started", title: t("runs.started"), cell: (r) => `${day(r.startedAt)} ${clock(r.startedAt)}` },
    { key: "by", title: t("runs.by"), cell: (r) => r.by },
  ];
  return (
    <Page title={t("runs.title")}>
      {runs.isError && !runs.data && <Trouble error={runs.error} onRetry={() => runs.refetch()} />}
      {runs.isPending && <Loading />}
      {runs.data && (
        <ListTable
          name="runs"
          rows={runs.data.items}
          total={runs.data.total}
          columns={columns}
          ask={ask}
          busy={runs.isPlaceholderData}
          tools={<ListFind id="find-run" label={t("runs.find")} ask={ask} />}
          empty={t(ask.find ? "runs.noneFound" : "runs.none")}
        />
      )}
    </Page>
  );
}
