import { useTranslation } from "react-i18next";
import type { Bench } from "../api/client";

/** Opens the phone's own map where the pool is: by its place if anybody said it, else by its address. */
export function Where({ pool }: { pool: Pick<Bench["pool"], "lat" | "lon" | "street" | "town"> }) {
  const { t } = useTranslation();
  const address = [pool.street, pool.town].filter(Boolean).join(", ");
  const placed = pool.lat != null && pool.lon != null;
  if (!placed && !pool.town) return null;
  const at = placed ? `${pool.lat?.toFixed(6)},${pool.lon?.toFixed(6)}` : "0,0";
  const asked = placed ? `${at}(${encodeURIComponent(address)})` : encodeURIComponent(address);
  return (
    <span>
      {pool.town ? `${pool.town} ` : ""}
      <a className="where" href={`geo:${at}?q=${asked}`}>
        {t("bench.where")}
      </a>
    </span>
  );
}
