import { useTranslation } from "react-i18next";
import type { Bench } from "../api/client";

type At = Pick<Bench["pool"], "lat" | "lon" | "street" | "town">;

/** The address that opens a phone's own map where a pool is: by its place if anybody said it,
 *  else by its street and town; empty where neither is known. */
export function whereHref(pool: At): string {
  const address = [pool.street, pool.town].filter(Boolean).join(", ");
  const placed = pool.lat != null && pool.lon != null;
  if (!placed && !pool.town) return "";
  const at = placed ? `${pool.lat?.toFixed(6)},${pool.lon?.toFixed(6)}` : "0,0";
  return `geo:${at}?q=${placed ? `${at}(${encodeURIComponent(address)})` : encodeURIComponent(address)}`;
}

/** The town, and the way to it on the phone's own map. */
export function Where({ pool }: { pool: At }) {
  const { t } = useTranslation();
  const href = whereHref(pool);
  if (!href) return null;
  return (
    <span>
      {pool.town ? `${pool.town} ` : ""}
      <a className="where" href={href}>
        {t("bench.where")}
      </a>
    </span>
  );
}
