import { Table } from "antd";
import type { ReactNode } from "react";
import styles from "./data-table.module.css";

export interface TableColumn<Row> {
  key: string;
  title: ReactNode;
  cell: (row: Row, i: number) => ReactNode;
  /** Its cells are their rows' heads. */
  head?: boolean;
  end?: boolean;
  /** Left out where the screen is narrow. */
  wide?: boolean;
}

/** A table that is all here: no search, no pages. */
export function DataTable<Row extends object>({
  name,
  label,
  rows,
  columns,
  keyOf,
  attrs,
  stacks,
  empty,
  foot,
}: {
  name?: string;
  /** What a screen reader is told that it is. */
  label: string;
  rows: Row[];
  columns: TableColumn<Row>[];
  keyOf: (row: Row, i: number) => string | number;
  /** What a row carries beside its cells. */
  attrs?: (row: Row) => object;
  /** On a narrow screen each row's cells stand under one another, each with its head. */
  stacks?: boolean;
  empty?: string;
  foot?: ReactNode;
}) {
  return (
    <Table<Row>
      className={[styles.table, stacks ? styles.stacks : "", name ?? ""].join(" ")}
      id={name}
      aria-label={label}
      size="small"
      pagination={false}
      dataSource={rows}
      rowKey={(row) => keyOf(row, rows.indexOf(row))}
      locale={empty ? { emptyText: empty } : undefined}
      onRow={(row) => attrs?.(row) ?? {}}
      footer={foot ? () => foot : undefined}
      columns={columns.map((c) => ({
        key: c.key,
        title: c.title,
        className: `col-${c.key}`,
        align: c.end ? "end" : undefined,
        rowScope: c.head ? "row" : undefined,
        responsive: c.wide ? ["md"] : undefined,
        onCell: () => (typeof c.title === "string" ? { "data-head": c.title } : {}) as object,
        render: (_: unknown, row: Row, i: number) => c.cell(row, i),
      }))}
    />
  );
}
