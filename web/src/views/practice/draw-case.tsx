import { Button, InputNumber } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { PracticeAsk } from "../../api/client";
import { Choice } from "../../parts/choice";
import styles from "./practice.module.css";

type Drawn = NonNullable<PracticeAsk["draw"]>;
const levels: Drawn["level"][] = ["first-week", "season", "old-hand"];
const themes: Drawn["theme"][] = ["air", "suction", "filter", "spa", "electrical", "holding", "small", "opening"];

/** The largest seed: a class tells it by voice. */
const mostSeed = 999_999;
const anySeed = () => 1 + (crypto.getRandomValues(new Uint32Array(1))[0] % mostSeed);

/** A case by level, theme and seed: the same three give everybody the same one. */
export function DrawCase({ label, onDraw }: { label?: string; onDraw: (draw: Drawn, title: string) => void }) {
  const { t } = useTranslation();
  const [draw, setDraw] = useState<Drawn>(() => ({ level: "first-week", theme: "filter", seed: anySeed() }));
  const set = (part: Partial<Drawn>) => setDraw({ ...draw, ...part });
  return (
    <div className={styles.draw} id="practice-draw-form">
      <div>
        <label htmlFor="draw-level">{t("practice.hard")}</label>
        <Choice
          id="draw-level"
          value={draw.level}
          options={levels.map((value) => ({ value, label: t(`practice.level.${value}`) }))}
          onChange={(level) => set({ level })}
        />
      </div>
      <div>
        <label htmlFor="draw-theme">{t("practice.about")}</label>
        <Choice
          id="draw-theme"
          value={draw.theme}
          options={themes.map((value) => ({ value, label: t(`practice.theme.${value}`) }))}
          onChange={(theme) => set({ theme })}
        />
      </div>
      <div>
        <label htmlFor="draw-seed">{t("practice.seed")}</label>
        <InputNumber
          id="draw-seed"
          min={1}
          max={mostSeed}
          precision={0}
          value={draw.seed}
          onChange={(seed) => set({ seed: seed ?? 1 })}
        />
      </div>
      <Button
        id="practice-draw-go"
        onClick={() => {
          onDraw(draw, t("practice.drawn", { theme: t(`practice.theme.${draw.theme}`), seed: draw.seed }));
          set({ seed: anySeed() });
        }}
      >
        {label ?? t("practice.drawGo")}
      </Button>
    </div>
  );
}
