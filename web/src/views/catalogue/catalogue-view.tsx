import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type CatalogueItem, fieldSays, http, type Problem } from "../../api/client";
import { useMe } from "../../frame/me";
import { Page } from "../../frame/page";
import { DataTable } from "../../parts/data-table";
import { FileField, FileSays } from "../../parts/file-field";
import { measured } from "../../parts/format";
import { Loading, Trouble } from "../../parts/quiet-states";
import { OwnPump } from "./own-pump";

/** The models to describe a pad with; the desk brings its own. */
export function CatalogueView() {
  const { t } = useTranslation();
  const me = useMe();
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
    <Page title={t("catalogue.title")}>
      <div className="catalogue">
        <p>{t("catalogue.what")}</p>
        {me.role !== "technician" && (
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
          <DataTable
            name="catalogue"
            label={t("catalogue.taken", { count: items.data.length })}
            stacks
            rows={items.data}
            keyOf={(i) => i.model}
            columns={[
              {
                key: "model",
                title: t("catalogue.model"),
                cell: (i) => (
                  <>
                    <b>{i.model}</b> <span className="quiet">{t(i.own ? "catalogue.own" : "catalogue.builtIn")}</span>
                  </>
                ),
              },
              { key: "kind", title: t("catalogue.kind"), cell: (i) => t(`catalogue.kinds.${i.kind}`) },
              { key: "figures", title: t("catalogue.figures"), cell: figures },
            ]}
          />
        )}
      </div>
    </Page>
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
