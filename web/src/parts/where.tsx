import { useTranslation } from "react-i18next";
import type { Bench } from "../api/client";

/** Opens the phone's own map where the pool is, if anybody said where. */
export function Where({ pool }: { pool: Pick<Bench["pool"], "lat" | "lon" | "street"> }) {
  const { t } = useTranslation();
  if (pool.lat == null || pool.lon == null) return null;
  const at = `${pool.lat.toFixed(6)},${pool.lon.toFixed(6)}`;
  return (
    <span>
      <a className="where" href={`geo:${at}?q=${at}(${encodeURIComponent(pool.street)})`}>
        {t("bench.where")}
      </a>
    </span>
  );
}
