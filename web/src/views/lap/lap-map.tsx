import L from "leaflet";
import "leaflet/dist/leaflet.css";
import { useEffect, useRef } from "react";
import { useTranslation } from "react-i18next";
import { api, type LapView } from "../../api/client";
import { Loading, Trouble } from "../../parts/quiet-states";
import styles from "./lap-map.module.css";

/** The streets that are shipped, the day's way over them as the crow flies, and its stops by their numbers. */
export default function LapMap({ lap }: { lap: LapView }) {
  const { t } = useTranslation();
  const box = useRef<HTMLDivElement>(null);
  const map = api.useQuery("get", "/api/v1/laps/{id}/map", { params: { path: { id: lap.id } } });
  const data = map.data;
  useEffect(() => {
    if (!box.current || !data || data.stops.length === 0) return;
    const drawn = L.map(box.current, { attributionControl: false, zoomAnimation: false, fadeAnimation: false });
    if (data.tiles) L.tileLayer(data.tiles, { maxZoom: 19 }).addTo(drawn);
    for (const line of data.streets) {
      L.polyline(
        (line ?? []).map((at) => [at?.[1] ?? 0, at?.[0] ?? 0] as [number, number]),
        {
          className: styles.street,
          interactive: false,
        },
      ).addTo(drawn);
    }
    const order = lap.stops.flatMap((s) => data.stops.filter((at) => at.id === s.id));
    const way = order.map((s) => [s.lat, s.lon] as [number, number]);
    L.polyline(way, { className: styles.way, interactive: false }).addTo(drawn);
    for (const [i, s] of order.entries()) {
      const state = lap.stops.find((x) => x.id === s.id)?.state ?? "ahead";
      L.marker([s.lat, s.lon], {
        icon: L.divIcon({
          className: `${styles.stop} ${styles[state] ?? ""}`,
          html: String(i + 1),
          iconSize: [32, 32],
        }),
        title: s.street,
        alt: s.street,
        keyboard: false,
      })
        .bindTooltip(s.street)
        .addTo(drawn);
    }
    drawn.fitBounds(L.latLngBounds(way).pad(0.15), { animate: false });
    return () => {
      drawn.remove();
    };
  }, [data, lap.stops]);
  if (map.isError && !data) return <Trouble error={map.error} onRetry={() => map.refetch()} />;
  if (!data) return <Loading rows={5} />;
  if (data.stops.length === 0) return <p className="empty">{t("map.none")}</p>;
  return <div ref={box} className={styles.map} id="lap-map" role="img" aria-label={t("map.label")} />;
}
