import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type PoolAbout, type Problem } from "../../api/client";
import { useChanged } from "../../api/use-changed";
import { longDay } from "../../parts/format";

/** Takes a pool out of care, and back: its record stays. */
export function Archive({ about }: { about: PoolAbout }) {
  const { t } = useTranslation();
  const changed = useChanged();
  const [sure, setSure] = useState(false);
  const put = api.useMutation("put", "/api/v1/pools/{id}/archived", {
    onSuccess: () => {
      setSure(false);
      changed("pool");
    },
  });
  const ask = (archived: boolean) =>
    put.mutate({ params: { path: { id: about.id } }, body: { archived, version: about.version } });
  return (
    <section>
      <h2>{t("about.care")}</h2>
      {about.archivedAt && <p>{t("about.archived", { at: longDay(about.archivedAt) })}</p>}
      {put.isError && <p role="alert">{(put.error as Problem).detail ?? t("state.offline")}</p>}
      {about.archivedAt ? (
        <Button onClick={() => ask(false)}>{t("about.takeBack")}</Button>
      ) : sure ? (
        <span className="part-acts">
          <span>{t("about.sure")}</span>
          <Button id="archive-sure" onClick={() => ask(true)}>
            {t("about.archive")}
          </Button>
          <Button type="link" onClick={() => setSure(false)}>
            {t("log.back")}
          </Button>
        </span>
      ) : (
        <Button id="archive" onClick={() => setSure(true)}>
          {t("about.archive")}
        </Button>
      )}
    </section>
  );
}
