import { useTranslation } from "react-i18next";
import type { PadDocument, PadPreview, Problem } from "../../api/client";
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
          <table className="twin">
            <caption className="sr">{t("pad.atSpeeds")}</caption>
            <thead>
              <tr>
                <th>{t("meter.speed")}</th>
                <th>{t("meter.flow")}</th>
                <th>{t("meter.tank")}</th>
                <th>{t("meter.power")}</th>
              </tr>
            </thead>
            <tbody>
              {preview.speeds.map((s) => (
                <tr key={s.rpm}>
                  <td>{figure(s.rpm, "rpm")} rpm</td>
                  <td>
                    <span className="exp">{figure(s.flowGpm, "gpm")}</span> ± {measured(s.flowSd, "gpm")}
                  </td>
                  <td>
                    <span className="exp">{figure(s.tankPsi, "psi")}</span> ± {measured(s.tankSd, "psi")}
                  </td>
                  <td>
                    <span className="exp">{figure(s.powerW, "W")}</span> W
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className="quiet">{t("pad.wide")}</p>
          <Hazards hazards={preview.paths.hazards} />
          <LimitWindows limits={preview.limits} />
        </>
      )}
    </section>
  );
}
