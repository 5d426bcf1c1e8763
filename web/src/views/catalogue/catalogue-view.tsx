import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type CatalogueItem, fieldSays, http, type Problem } from "../../api/client";
import { FileField, FileSays } from "../../parts/figure-field";
import type { FrameProps } from "../../parts/frame";
import { Loading, Trouble } from "../../parts/quiet-states";
import { Strip } from "../../parts/strip";
import { OwnPump } from "./own-pump";

/** The models to describe a pad with; the desk brings its own. */
export function CatalogueView(frame: FrameProps) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const items = api.useQuery("get", "/api/catalogue");
  const [says, setSays] = useState<Record<string, string>>({});
  const read = async (text: string) => {
    const { error } = await http.POST("/api/catalogue", { body: { text } });
    setSays(error ? fieldSays(error as Problem) : {});
    if (!error) queries.invalidateQueries({ queryKey: ["get", "/api/catalogue"] });
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
            <a href="/api/catalogue/file" download>
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

function figures(i: CatalogueItem): string {
  if (i.pump) {
    const curve = i.pump.curve ?? [];
    const end = curve[curve.length - 1];
    return `${i.pump.leastRpm}–${i.pump.topRpm} rpm · ${curve[0]?.ft} ft shut, ${end?.ft} ft at ${end?.gpm} gpm`;
  }
  if (i.filter)
    return `${i.filter.kind}, ${i.filter.areaFt2} ft² · ${(i.filter.mediaPsi + i.filter.vesselPsi).toFixed(1)} psi at ${i.filter.atGpm} gpm`;
  const d = i.heater ?? i.cell;
  return d ? `${d.dropPsi} psi at ${d.atGpm} gpm · from ${d.leastGpm} gpm` : "";
}
