import { Button, QRCode } from "antd";
import { useTranslation } from "react-i18next";
import { useSearchParams } from "react-router";
import { api } from "../../api/client";
import { Page } from "../../frame/page";
import styles from "./labels-view.module.css";

/** Labels for equipment pads: the pool's name, and its page under a phone's camera. */
export default function LabelsView() {
  const { t } = useTranslation();
  const [search] = useSearchParams();
  const ids = (search.get("of") ?? "").split(",").filter(Boolean);
  return (
    <Page
      title={t("labels.title")}
      acts={
        <Button id="labels-print" onClick={() => window.print()}>
          {t("lap.print")}
        </Button>
      }
    >
      <p className={styles.what}>{t("labels.what")}</p>
      <ul className={styles.labels}>
        {ids.map((id) => (
          <Label key={id} id={id} />
        ))}
      </ul>
    </Page>
  );
}

function Label({ id }: { id: string }) {
  const { t } = useTranslation();
  const pool = api.useQuery("get", "/api/v1/pools/{id}", { params: { path: { id } } });
  const p = pool.data?.pool;
  return (
    <li data-label={id}>
      <span aria-hidden="true">
        <QRCode type="svg" value={`${window.location.origin}/pools/${id}`} size={120} bordered={false} color="black" />
      </span>
      <div>
        <b>{p?.street ?? "…"}</b>
        <span>{p?.equipment}</span>
        <span>{t("brand")}</span>
      </div>
    </li>
  );
}
