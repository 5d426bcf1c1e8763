import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { useParams, useSearchParams } from "react-router";
import { api, type Problem } from "../../api/client";
import { useLanguage } from "../../i18n";
import { Brand } from "../../parts/glyphs";
import { Paper } from "../../parts/paper";
import { PaperDoors } from "../../parts/paper-doors";
import { Loading, Trouble } from "../../parts/quiet-states";
import styles from "./shared.module.css";

/** What a customer's link opens, signed out: their own pool's papers. */
export default function SharedView() {
  const { t } = useTranslation();
  const { secret = "", kind = "owner" } = useParams();
  const [search] = useSearchParams();
  const of = search.get("of") ?? "";
  const shared = api.useQuery("get", "/api/v1/shared/{secret}", { params: { path: { secret } } });
  const page = api.useQuery(
    "get",
    "/api/v1/shared/{secret}/papers/{kind}",
    { params: { path: { secret, kind: kind as "owner" }, query: of ? { of } : {} } },
    { enabled: shared.isSuccess },
  );
  useLanguage(shared.data?.lang);
  const ended = (shared.error as Problem | null)?.status === 404;
  if (ended) {
    return (
      <main className="quiet-state">
        <h1>{t("shared.ended")}</h1>
        <p>{t("shared.askAgain")}</p>
      </main>
    );
  }
  if (shared.isError) return <Trouble error={shared.error} onRetry={() => shared.refetch()} />;
  if (!shared.data) return <Loading />;
  return (
    <main className={styles.shared}>
      <header className="no-print">
        <p className="part-acts">
          <Brand /> <b>{shared.data.company}</b>
          {shared.data.phone && <a href={`tel:${shared.data.phone}`}>{shared.data.phone}</a>}
        </p>
        {shared.data.photo && <img src={`/api/v1/shared/${secret}/photo`} alt={shared.data.street} />}
        <nav aria-label={t("papers.title")}>
          <PaperDoors papers={shared.data.papers} to={(p) => `/shared/${secret}/${p}`} />
        </nav>
        <p className="part-acts">
          <Button onClick={() => window.print()}>{t("lap.print")}</Button>
          <Button href={`/api/v1/shared/${secret}/papers/${kind}/pdf${of ? `?of=${of}` : ""}`}>
            {t("papers.pdf")}
          </Button>
        </p>
      </header>
      {page.data && <Paper page={page.data} alone />}
      {page.isError && <Trouble error={page.error} onRetry={() => page.refetch()} />}
    </main>
  );
}
