import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Bench } from "../../api/client";
import { Tool } from "../../parts/glyphs";

const next = (v: boolean | undefined) => (v === undefined ? true : v ? false : undefined);

/** How many chips show before "all of them". */
const few = 8;

interface Props {
  signs: Bench["signs"];
  answers: Record<string, boolean>;
  onAnswer: (id: string, yes: boolean | undefined) => void;
}

/** Seen or heard: yes, no, or not looked; a tap goes round. */
export function Signs({ signs, answers, onAnswer }: Props) {
  const { t } = useTranslation();
  const [all, setAll] = useState(false);
  const answered = signs.filter((s) => answers[s.id] !== undefined);
  const rest = signs.filter((s) => answers[s.id] === undefined);
  const usual = rest.filter((s) => s.where !== "danger");
  const shown = [...answered, ...usual].slice(0, Math.max(few, answered.length));
  const ordered = signs.filter((s) => shown.includes(s));
  return (
    <section className="sec sec-seen" aria-labelledby="seen-head">
      <div className="sec-head">
        <h2 id="seen-head">{t("seen.title")}</h2>
        <span className="quiet">
          <span className="wide">{t("seen.tap")} · </span>
          {t("seen.left", { count: rest.length })}
        </span>
        <button type="button" className="as-table" aria-expanded={all} onClick={() => setAll(!all)}>
          {t(all ? "seen.fewer" : "seen.all", { count: signs.length })}
        </button>
      </div>
      {all ? (
        places.map((place) => (
          <div key={place} className="chip-group">
            <h3>{t(`seen.where.${place}`)}</h3>
            <Chips signs={signs.filter((s) => s.where === place)} answers={answers} onAnswer={onAnswer} />
          </div>
        ))
      ) : (
        <Chips signs={ordered} answers={answers} onAnswer={onAnswer} />
      )}
    </section>
  );
}

/** Where signs are looked for, dangers first. */
const places = ["danger", "pot", "pump", "filter", "pool", "paths", "since"] as const;

function Chips({ signs, answers, onAnswer }: Props) {
  const { t } = useTranslation();
  return (
    <ul className="chips">
      {signs.map((s) => {
        const v = answers[s.id];
        const state = v === undefined ? "none" : v ? "yes" : "no";
        return (
          <li key={s.id}>
            <button type="button" className={`chip ${state}`} data-sign={s.id} onClick={() => onAnswer(s.id, next(v))}>
              <Tool name={state} size={22} className="ans" />
              <span className="c-name">{s.name}</span>
              <span className="c-word">{t(`seen.${state}`)}</span>
            </button>
          </li>
        );
      })}
    </ul>
  );
}
