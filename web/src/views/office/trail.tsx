import { useInfiniteQuery } from "@tanstack/react-query";
import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { http, type Problem } from "../../api/client";
import { clock, longDay } from "../../parts/format";
import { Loading, Trouble } from "../../parts/quiet-states";

/** Who changed what, newest first. */
export function Trail() {
  const { t } = useTranslation();
  const pages = useInfiniteQuery({
    queryKey: ["get", "/api/v1/audit"],
    initialPageParam: "",
    queryFn: async ({ pageParam }) => {
      const { data, error } = await http.GET("/api/v1/audit", { params: { query: { from: pageParam || undefined } } });
      if (!data) throw error as Problem;
      return data;
    },
    getNextPageParam: (page) => page.next,
  });
  if (pages.isError && !pages.data) return <Trouble error={pages.error} onRetry={() => pages.refetch()} />;
  if (!pages.data) return <Loading />;
  const all = pages.data.pages.flatMap((p) => p.entries);
  return (
    <section>
      <p className="quiet">{t("trail.what")}</p>
      {all.length === 0 && <p className="empty">{t("trail.none")}</p>}
      <ul className="part-events" id="trail">
        {all.map((e) => (
          <li key={e.id}>
            <span className="quiet">
              {longDay(e.at)}, {clock(e.at)}, {e.by || t("trail.program")}
            </span>{" "}
            {e.street && <Link to={`/pools/${e.poolId}`}>{e.street}</Link>} {e.says}
          </li>
        ))}
      </ul>
      {pages.hasNextPage && (
        <Button disabled={pages.isFetchingNextPage} onClick={() => pages.fetchNextPage()}>
          {t("trail.more")}
        </Button>
      )}
    </section>
  );
}
