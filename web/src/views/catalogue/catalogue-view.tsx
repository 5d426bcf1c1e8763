import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type CatalogueItem, fieldSays, http, type Problem } from "../../api/client";
import { FileField, FileSays } from "../../parts/figure-field";
import { measured } from "../../parts/format";
import type { FrameProps } from "../../parts/frame";
import { Loading, Trouble } from "../../parts/quiet-states";
import { Strip } from "../../parts/strip";
import { OwnPump } from "./own-pump";

/** The models to describe a pad with; the desk brings its own. */
export function CatalogueView(frame: FrameProps) {
  const { t } = useTranslation();
  const figures = useFigures();
  const queries = useQueryClient();
  const items = api.useQuery("get", "/api/v1/catalogue");
  const [says, setSays] = useState<Record<string, string>>({});
  const read = async (text: string) => {
    const { error } = await http.POST("/api/v1/catalogue", { body: { text } });
    setSays(error ? fieldSays(error as Problem) : {});
    if (!error) queries.invalidateQueries({ queryKey: ["get", "/api/v1/catalogue"] });
  };
  return (
    <div className="frame plain">
      <Strip {...frame} />
      <main className="whole">
        <header className="top">
          <h1>{t("catalogue.title")}</h1>
        </header>
        <div className="catalogue">
          <p>{t("catalogue.what")}</p>
          {frame.me.role !== "technician" && (
            <FileField id="import-catalogue" label={t("catalogue.import")} accept=".csv,text/csv" onFile={read} />
          )}
          <FileSays says={says} />
          <OwnPump />
          <p className="pad-files">
            <a href="/api/v1/catalogue/file" download>
              {t("catalogue.download")}
            </a>
          </p>
          {items.isError && <Trouble error={items.error} onRetry={() => items.refetch()} />}
          {items.isPending && <Loading />}
          {items.data && (
            <table className="twin">
              <caption className="sr">{t("catalogue.taken", { count: items.data.length })}</caption>
              <thead>
                <tr>
                  <th>{t("catalogue.model")}</th>
                  <th>{t("catalogue.kind")}</th>
                  <th>{t("catalogue.figures")}</th>
                </tr>
              </thead>
              <tbody>
                {items.data.map((i) => (
                  <tr key={i.model}>
                    <td>
                      <b>{i.model}</b> <span className="quiet">{t(i.own ? "catalogue.own" : "catalogue.builtIn")}</span>
                    </td>
                    <td>{t(`catalogue.kinds.${i.kind}`)}</td>
                    <td>{figures(i)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </div>
      </main>
    </div>
  );
}

function useFigures(): (i: CatalogueItem) => string {
  const { t } = useTranslation();
  return (i) => {
    if (i.pump) {
      const curve = i.pump.curve ?? [];
      const end = curve[curve.length - 1];
      return t("catalogue.pumpFigures", {
        least: i.pump.leastRpm,
        top: i.pump.topRpm,
        shut: measured(curve[0]?.ft ?? 0, "ft"),
        head: measured(end?.ft ?? 0, "ft"),
        flow: measured(end?.gpm ?? 0, "gpm"),
      });
    }
    if (i.filter)
      return t("catalogue.filterFigures", {
        kind: t(`catalogue.filters.${i.filter.kind}`),
        area: measured(i.filter.areaFt2, "ft²"),
        drop: measured(i.filter.mediaPsi + i.filter.vesselPsi, "psi"),
        flow: measured(i.filter.atGpm, "gpm"),
      });
    const d = i.heater ?? i.cell;
    if (!d) return "";
    return t("catalogue.deviceFigures", {
      drop: measured(d.dropPsi, "psi"),
      flow: measured(d.atGpm, "gpm"),
      least: measured(d.leastGpm, "gpm"),
    });
  };
}
