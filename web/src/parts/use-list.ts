import { useCallback, useMemo } from "react";
import { useLocation, useSearchParams } from "react-router";

/** Lines on a page of a list. */
export const listSize = 50;

interface Next {
  find?: string;
  sort?: string;
  page?: number;
  /** What narrows the list, by name; empty takes it away. */
  filters?: Record<string, string>;
}

/** What of a list is shown: it stands in the address, so that Back finds it again. */
export interface ListAsk<Sort extends string> {
  find: string;
  sort: Sort;
  page: number;
  filters: Record<string, string>;
  change: (next: Next) => void;
}

/** Reads and writes what of a list is shown; another search, order or filter begins at its first page. */
export function useList<Sort extends string>(orders: readonly Sort[], narrows: readonly string[] = []): ListAsk<Sort> {
  const [search, setSearch] = useSearchParams();
  const { pathname } = useLocation();
  const change: ListAsk<Sort>["change"] = useCallback(
    (next) => {
      // On the way to another page, which has not come yet: the list is not asked any more.
      if (window.location.pathname !== pathname) return;
      setSearch(
        (now) => {
          const out = new URLSearchParams(now);
          const put = (key: string, value: string, usual: string) =>
            value === usual ? out.delete(key) : out.set(key, value);
          if (next.find !== undefined) put("find", next.find, "");
          if (next.sort !== undefined) put("sort", next.sort, orders[0]);
          for (const [key, value] of Object.entries(next.filters ?? {})) put(key, value, "");
          put("page", String(next.page ?? 1), "1");
          return out;
        },
        { replace: true },
      );
    },
    [setSearch, orders, pathname],
  );
  const sort = orders.find((o) => o === search.get("sort")) ?? orders[0];
  const filters = useMemo(() => Object.fromEntries(narrows.map((n) => [n, search.get(n) ?? ""])), [narrows, search]);
  return {
    find: search.get("find") ?? "",
    sort,
    page: Math.max(1, Math.trunc(Number(search.get("page"))) || 1),
    filters,
    change,
  };
}
