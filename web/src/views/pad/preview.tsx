import { useTranslation } from "react-i18next";
import type { PadDocument, PadPreview, Problem } from "../../api/client";
import { DataTable } from "../../parts/data-table";
import { figure, measured } from "../../parts/format";
import { Hazards } from "../../parts/hazards";
import { LimitWindows } from "../../parts/limit-windows";
import { PadDrawing } from "../../parts/pad-drawing";
import { Trouble } from "../../parts/quiet-states";

interface Judged {
  preview: PadPreview | undefined;
  stale: boolean;
  trouble: Problem | null;
  again: () => void;
}

/** The described pad, drawn and solved as it is typed. */
export function Preview({ doc, judged }: { doc: PadDocument | null; judged: Judged }) {
  const { t } = useTranslation();
  const { preview } = judged;
  if (!doc) return <p className="quiet-state">{t("pad.nothingYet")}</p>;
  return (
    <section className={`pad-preview ${judged.stale ? "stale" : ""}`} aria-label={t("pad.preview")}>
      {judged.trouble && <Trouble error={judged.trouble} onRetry={judged.again} />}
      <PadDrawing
        doc={doc}
        paths={preview?.paths}
        label={t("paths.label", { path: preview?.paths.settingPath ?? "" })}
      />
      {preview && (
        <>
          <DataTable
            name="speeds"
            label={t("pad.atSpeeds")}
            rows={preview.speeds}
            keyOf={(s) => s.rpm}
            columns={[
              { key: "speed", title: t("meter.speed"), cell: (s) => `${figure(s.rpm, "rpm")} rpm` },
              {
                key: "flow",
                title: t("meter.flow"),
                cell: (s) => (
                  <>
                    <span className="exp">{figure(s.flowGpm, "gpm")}</span> ± {measured(s.flowSd, "gpm")}
                  </>
                ),
              },
              {
                key: "tank",
                title: t("meter.tank"),
                cell: (s) => (
                  <>
                    <span className="exp">{figure(s.tankPsi, "psi")}</span> ± {measured(s.tankSd, "psi")}
                  </>
                ),
              },
              {
                key: "power",
                title: t("meter.power"),
                cell: (s) => (
                  <>
                    <span className="exp">{figure(s.powerW, "W")}</span> W
                  </>
                ),
              },
            ]}
          />
          <p className="quiet">{t("pad.wide")}</p>
          <Hazards hazards={preview.paths.hazards} />
          <LimitWindows limits={preview.limits} />
        </>
      )}
    </section>
  );
}
