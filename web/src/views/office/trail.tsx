import { useInfiniteQuery } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, http, type Problem } from "../../api/client";
import { Choice } from "../../parts/choice";
import { DataTable } from "../../parts/data-table";
import { clock, longDay } from "../../parts/format";
import { Loading, Trouble } from "../../parts/quiet-states";
import styles from "./office.module.css";

const acts = [
  "pool",
  "customer",
  "link",
  "photo",
  "people",
  "company",
  "cleaning",
  "catalogue",
  "import",
  "retention",
] as const;
type Act = (typeof acts)[number];

/** Who changed what, newest first; by kind and by whom. */
export function Trail() {
  const { t } = useTranslation();
  const [act, setAct] = useState<Act | "">("");
  const [by, setBy] = useState("");
  const people = api.useQuery("get", "/api/v1/people");
  const pages = useInfiniteQuery({
    queryKey: ["get", "/api/v1/audit", act, by],
    initialPageParam: "",
    queryFn: async ({ pageParam }) => {
      const { data, error } = await http.GET("/api/v1/audit", {
        params: { query: { from: pageParam || undefined, act: act ? [act] : undefined, by: by || undefined } },
      });
      if (!data) throw error as Problem;
      return data;
    },
    getNextPageParam: (page) => page.next,
  });
  if (pages.isError && !pages.data) return <Trouble error={pages.error} onRetry={() => pages.refetch()} />;
  return (
    <section>
      <p className="quiet">{t("trail.what")}</p>
      <div className={styles.narrow}>
        <Choice
          id="trail-act"
          label={t("trail.kind")}
          value={act}
          options={[
            { value: "" as Act | "", label: t("trail.anything") },
            ...acts.map((a) => ({ value: a as Act | "", label: t(`trail.acts.${a}`) })),
          ]}
          onChange={setAct}
        />
        <Choice
          id="trail-by"
          label={t("trail.by")}
          value={by}
          options={[
            { value: "", label: t("trail.anybody") },
            ...(people.data ?? []).map((p) => ({ value: p.id, label: p.name })),
          ]}
          onChange={setBy}
        />
      </div>
      {!pages.data && <Loading />}
      {pages.data && (
        <DataTable
          name="trail"
          label={t("office.rooms.trail")}
          stacks
          rows={pages.data.pages.flatMap((p) => p.entries)}
          keyOf={(e) => e.id}
          empty={t("trail.none")}
          columns={[
            { key: "at", title: t("trail.at"), cell: (e) => `${longDay(e.at)}, ${clock(e.at)}` },
            { key: "by", title: t("trail.by"), cell: (e) => e.by || t("trail.program") },
            {
              key: "what",
              title: t("trail.changed"),
              cell: (e) => (
                <>
                  {e.street && <Link to={`/pools/${e.poolId}`}>{e.street}</Link>} {e.says}
                </>
              ),
            },
          ]}
        />
      )}
      {pages.hasNextPage && (
        <Button disabled={pages.isFetchingNextPage} onClick={() => pages.fetchNextPage()}>
          {t("trail.more")}
        </Button>
      )}
    </section>
  );
}
