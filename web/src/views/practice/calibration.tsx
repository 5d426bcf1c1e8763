import { useTranslation } from "react-i18next";
import type { PracticeStanding } from "../../api/client";
import { Chart } from "../../parts/chart-later";
import { day, percent } from "../../parts/format";

/** The odds that were said against what was so: on the dashed line they are honest. */
export function Calibration({ standing }: { standing: PracticeStanding }) {
  const { bands, brier, attempts } = standing;
  const { t } = useTranslation();
  const said = bands.filter((b) => b.n > 0).map((b) => ({ x: b.said, y: b.so }));
  const scores = attempts
    .flatMap((a) => (a.past?.brier == null ? [] : [{ x: Date.parse(a.begunAt), y: a.past.brier }]))
    .reverse();
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
      {brier != null && <p>{t("practice.brier", { brier: brier.toFixed(2) })}</p>}
      {scores.length > 1 && (
        <Chart
          name="practice-brier"
          label={t("practice.overTime")}
          x={{ title: t("practice.when"), format: (v) => day(new Date(v)), time: true }}
          y={{ title: t("practice.score"), format: (v) => v.toFixed(2), low: 0, top: 1 }}
          lines={[{ key: "brier", name: t("practice.score"), look: "measured", runs: [scores], marks: scores }]}
        />
      )}
    </>
  );
}
