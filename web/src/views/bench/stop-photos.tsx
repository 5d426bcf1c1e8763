import { Drawer } from "antd";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api } from "../../api/client";
import { Tool } from "../../parts/glyphs";
import { AddPhoto, Photos } from "../../parts/photos";
import styles from "./stop-head.module.css";

/** The pool's pictures at a stop, and a new one. */
export default function StopPhotos({ pool, open, onClose }: { pool: string; open: boolean; onClose: () => void }) {
  const { t } = useTranslation();
  const about = api.useQuery("get", "/api/v1/pools/{id}/about", { params: { path: { id: pool } } }, { enabled: open });
  const shots = about.data?.photos ?? [];
  return (
    <Drawer open={open} onClose={onClose} placement="right" title={t("bench.photos")} closeIcon={<Tool name="no" />}>
      <div className={styles.photos}>
        <AddPhoto pool={pool} />
        {about.data && shots.length === 0 && <p className="empty">{t("photo.none")}</p>}
        <Photos shots={shots} mayEdit={false} />
        <Link to={`/pools/${pool}/about`}>{t("pages.about")}</Link>
      </div>
    </Drawer>
  );
}
