import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { useParams, useSearchParams } from "react-router";
import { api } from "../../api/client";
import { PoolFrame } from "../../frame/pool-frame";
import { GoButton } from "../../parts/go-button";
import { Paper } from "../../parts/paper";
import { PaperDoors } from "../../parts/paper-doors";
import { Loading, Trouble } from "../../parts/quiet-states";

/** A pool's papers: choose one, read it, print it, keep it as PDF. */
export function PapersView() {
  const { t } = useTranslation();
  const { id = "", kind } = useParams();
  const about = api.useQuery("get", "/api/v1/pools/{id}/about", { params: { path: { id } } });
  const papers = api.useQuery("get", "/api/v1/pools/{id}/papers", { params: { path: { id } } });
  const [search] = useSearchParams();
  return (
    <PoolFrame
      id={id}
      query={about}
      street={(a) => a.street}
      of={() => (
        <div className="papers">
          <nav aria-label={t("papers.title")}>
            <PaperDoors
              papers={papers.data ?? []}
              to={(p) => `/pools/${id}/papers/${p}`}
              pdf={(p) => `/api/v1/pools/${id}/papers/${p}/pdf`}
            />
          </nav>
          {kind && <One id={id} kind={kind} of={search.get("of") ?? ""} />}
        </div>
      )}
    />
  );
}

function One({ id, kind, of }: { id: string; kind: string; of: string }) {
  const { t } = useTranslation();
  const ask = { path: { id, kind: kind as "owner" }, query: of ? { of } : {} };
  const page = api.useQuery("get", "/api/v1/pools/{id}/papers/{kind}", { params: ask });
  if (page.isError) return <Trouble error={page.error} onRetry={() => page.refetch()} />;
  if (!page.data) return <Loading />;
  return (
    <div>
      <p className="part-acts no-print">
        <Button id="print-paper" onClick={() => window.print()}>
          {t("lap.print")}
        </Button>
        <Button id="paper-pdf" href={`/api/v1/pools/${id}/papers/${kind}/pdf${of ? `?of=${of}` : ""}`}>
          {t("papers.pdf")}
        </Button>
        <GoButton type="link" to={`/pools/${id}/about`}>
          {t("papers.send")}
        </GoButton>
      </p>
      <Paper page={page.data} />
    </div>
  );
}
