import { Input, Table, type TableColumnsType } from "antd";
import { type ReactNode, useEffect, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import styles from "./list-table.module.css";
import { type ListAsk, listSize } from "./use-list";
import { useSettled } from "./use-settled";

/** A column: its key is also the order that the server knows, where it sorts. */
export interface Column<Row> {
  key: string;
  title: string;
  cell: (row: Row) => ReactNode;
  sorts?: boolean;
  /** Shown on a phone too; the others are told there in the first column's second line. */
  phone?: boolean;
  end?: boolean;
}

/** A list that the server sorts, searches and pages. */
export function ListTable<Row extends { id: string }, Sort extends string>({
  name,
  rows,
  total,
  columns,
  ask,
  busy,
  empty,
}: {
  name: string;
  rows: Row[] | undefined;
  total: number;
  columns: Column<Row>[];
  ask: ListAsk<Sort>;
  busy: boolean;
  empty: string;
}) {
  const { t } = useTranslation();
  const by = ask.sort.replace(/^-/, "");
  const shown: TableColumnsType<Row> = columns.map((c) => ({
    key: c.key,
    title: c.title,
    className: `col-${c.key}`,
    align: c.end ? "end" : undefined,
    responsive: c.phone ? undefined : ["md"],
    sorter: c.sorts,
    showSorterTooltip: false,
    sortDirections: ["ascend", "descend", "ascend"],
    sortIcon: ({ sortOrder }) => (
      <span className={styles.way} aria-hidden="true">
        {sortOrder === "ascend" ? "↑" : sortOrder === "descend" ? "↓" : "↕"}
      </span>
    ),
    sortOrder: c.key === by ? (ask.sort.startsWith("-") ? "descend" : "ascend") : null,
    render: (_, row) => c.cell(row),
  }));
  return (
    <Table<Row>
      className={`${styles.list} ${name}`}
      aria-busy={busy}
      rowKey="id"
      columns={shown}
      dataSource={rows}
      locale={{ emptyText: empty }}
      pagination={{
        current: ask.page,
        pageSize: listSize,
        total,
        showSizeChanger: false,
        hideOnSinglePage: true,
        showTotal: (count, [from, to]) => t("list.range", { from, to, count }),
        align: "center",
      }}
      onChange={(page, _, sorter, { action }) => {
        const one = Array.isArray(sorter) ? sorter[0] : sorter;
        if (action === "sort") ask.change({ sort: `${one.order === "descend" ? "-" : ""}${String(one.columnKey)}` });
        else ask.change({ page: page.current });
      }}
    />
  );
}

/** The search of a list: what is typed is asked for once the hand rests. */
export function ListFind<Sort extends string>({
  id,
  label,
  ask,
  focused,
}: {
  id: string;
  label: string;
  ask: ListAsk<Sort>;
  focused?: boolean;
}) {
  const [typed, setTyped] = useState(ask.find);
  const settled = useSettled(typed.trim());
  const field = useRef<{ focus: () => void }>(null);
  const { find, change } = ask;
  // biome-ignore lint/correctness/useExhaustiveDependencies: only what is typed moves the list
  useEffect(() => {
    if (settled !== find) change({ find: settled });
  }, [settled]);
  useEffect(() => {
    if (focused) field.current?.focus();
  }, [focused]);
  return (
    <label className={styles.find} htmlFor={id}>
      <span className="sr">{label}</span>
      <Input
        ref={field as never}
        id={id}
        type="search"
        enterKeyHint="search"
        allowClear
        placeholder={label}
        value={typed}
        onChange={(e) => setTyped(e.target.value)}
      />
    </label>
  );
}
