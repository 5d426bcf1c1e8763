import { Button, Checkbox, Input, Popover, Table, type TableColumnsType } from "antd";
import { type Key, type ReactNode, useEffect, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { saveCsv } from "./csv";
import { Tool } from "./glyphs";
import styles from "./list-table.module.css";
import { type ListAsk, listSize } from "./use-list";
import { useSettled } from "./use-settled";

/** A column: its key is also the order that the server knows, where it sorts. */
export interface Column<Row> {
  key: string;
  title: string;
  cell: (row: Row) => ReactNode;
  /** What a file of the list says of it; a column without it is not in the file. */
  text?: (row: Row) => string | number | null | undefined;
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
  tools,
  all,
  bulk,
}: {
  name: string;
  rows: Row[] | undefined;
  total: number;
  columns: Column<Row>[];
  ask: ListAsk<Sort>;
  busy: boolean;
  empty: string;
  /** What narrows the list: stands above it. */
  tools?: ReactNode;
  /** A page of the list as it is asked for, for a file of the whole. */
  all?: (page: number, size: number) => Promise<{ items: Row[]; total: number }>;
  /** What may be done with the rows that are ticked. */
  bulk?: (ticked: Row[], done: () => void) => ReactNode;
}) {
  const { t } = useTranslation();
  const [hidden, hide] = useHidden(name);
  const [ticked, setTicked] = useState<Row[]>([]);
  const by = ask.sort.replace(/^-/, "");
  const shown: TableColumnsType<Row> = columns
    .filter((c, i) => i === 0 || !hidden.includes(c.key))
    .map((c) => ({
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
    <div className={styles.whole}>
      <div className={styles.tools}>
        {tools}
        <span className={styles.file}>
          <Popover
            trigger="click"
            placement="bottomRight"
            content={
              <Checkbox.Group
                className={styles.columns}
                value={columns.filter((c) => !hidden.includes(c.key)).map((c) => c.key)}
                options={columns.map((c, i) => ({ value: c.key, label: c.title, disabled: i === 0 }))}
                onChange={(on) => hide(columns.filter((c) => !on.includes(c.key)).map((c) => c.key))}
              />
            }
          >
            <Button size="small" id={`${name}-columns`} className={styles.wide}>
              {t("list.columns")}
            </Button>
          </Popover>
          {all && total > 0 && (
            <Export name={name} columns={columns.filter((c) => !hidden.includes(c.key))} all={all} />
          )}
        </span>
      </div>
      {bulk && ticked.length > 0 && (
        <fieldset className={styles.bulk} id={`${name}-bulk`} aria-label={t("list.bulk")}>
          <b>{t("list.ticked", { count: ticked.length })}</b>
          {bulk(ticked, () => setTicked([]))}
          <Button type="link" size="small" onClick={() => setTicked([])}>
            {t("list.untick")}
          </Button>
        </fieldset>
      )}
      <Table<Row>
        className={`${styles.list} ${name}`}
        aria-busy={busy}
        rowKey="id"
        columns={shown}
        dataSource={rows}
        locale={{ emptyText: empty }}
        rowSelection={
          bulk && {
            selectedRowKeys: ticked.map((r) => r.id),
            preserveSelectedRowKeys: true,
            onChange: (_: Key[], now: Row[]) => setTicked(now),
            getCheckboxProps: (row) => ({ "aria-label": t("list.tick"), id: `tick-${row.id}` }),
          }
        }
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
    </div>
  );
}

/** Which columns of a list are hidden, kept on this device. */
function useHidden(name: string): [string[], (keys: string[]) => void] {
  const key = `fairlap.columns.${name}`;
  const [hidden, setHidden] = useState<string[]>(() => {
    try {
      return JSON.parse(localStorage.getItem(key) ?? "[]");
    } catch {
      return [];
    }
  });
  return [
    hidden,
    (keys) => {
      setHidden(keys);
      try {
        localStorage.setItem(key, JSON.stringify(keys));
      } catch {
        // Storage is shut: the columns stay as they are until the page is left.
      }
    },
  ];
}

/** Lines that a file asks for at once. */
const atOnce = 200;

/** The whole list as it is asked for, in the columns that are shown, as a file. */
function Export<Row>({
  name,
  columns,
  all,
}: {
  name: string;
  columns: Column<Row>[];
  all: (page: number, size: number) => Promise<{ items: Row[]; total: number }>;
}) {
  const { t } = useTranslation();
  const [state, setState] = useState<"" | "busy" | "failed">("");
  const save = async () => {
    setState("busy");
    try {
      const rows: Row[] = [];
      for (let page = 1; ; page++) {
        const got = await all(page, atOnce);
        rows.push(...got.items);
        if (rows.length >= got.total || got.items.length === 0) break;
      }
      const told = columns.filter((c) => c.text);
      saveCsv(name, [told.map((c) => c.title), ...rows.map((r) => told.map((c) => c.text?.(r)))]);
      setState("");
    } catch {
      setState("failed");
    }
  };
  return (
    <>
      <Button size="small" id={`${name}-file`} className={styles.wide} loading={state === "busy"} onClick={save}>
        {t("list.file")}
      </Button>
      {state === "failed" && <span role="alert">{t("state.offline")}</span>}
    </>
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
    <Input
      ref={field as never}
      id={id}
      className={styles.find}
      type="search"
      enterKeyHint="search"
      allowClear
      prefix={<Tool name="find" size={18} />}
      aria-label={label}
      placeholder={label}
      value={typed}
      onChange={(e) => setTyped(e.target.value)}
    />
  );
}
