import { useTranslation } from "react-i18next";
import type { PracticeStanding } from "../../api/client";
import { Chart } from "../../parts/chart-later";
import { percent } from "../../parts/format";

/** The odds that were said against what was so: on the dashed line they are honest. */
export function Calibration({ bands, brier }: { bands: PracticeStanding["bands"]; brier: number }) {
  const { t } = useTranslation();
  const said = bands.filter((b) => b.n > 0).map((b) => ({ x: b.said, y: b.so }));
  const share = (v: number) => `${percent(v)} %`;
  return (
    <>
      <Chart
        name="practice-odds"
        label={t("practice.calibration")}
        x={{ title: t("practice.saidOdds"), format: share, ticks: [0, 0.2, 0.4, 0.6, 0.8, 1] }}
        y={{ title: t("practice.wasSo"), format: share, low: 0, top: 1 }}
        lines={[
          {
            key: "honest",
            name: t("practice.honest"),
            look: "expected",
            runs: [
              [
                { x: 0, y: 0 },
                { x: 1, y: 1 },
              ],
            ],
          },
          { key: "said", name: t("practice.yourOdds"), look: "measured", runs: [said], marks: said },
        ]}
      />
      <p>{t("practice.brier", { brier: brier.toFixed(2) })}</p>
    </>
  );
}
