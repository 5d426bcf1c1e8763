import { Button, Input } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Bench } from "../../api/client";
import { Chip, Chips } from "../../parts/chip";
import styles from "./signs.module.css";

const next = (v: boolean | undefined) => (v === undefined ? true : v ? false : undefined);

/** How many chips show before "all of them". */
const few = 8;

interface Props {
  signs: Bench["signs"];
  answers: Record<string, boolean>;
  onAnswer: (id: string, yes: boolean | undefined) => void;
}

/** Where signs are looked for, dangers first. */
const places = ["danger", "pot", "pump", "filter", "pool", "paths", "since"] as const;

/** Seen or heard: yes, no, or not looked; a tap goes round. */
export function Signs({ signs, answers, onAnswer }: Props) {
  const { t } = useTranslation();
  const [all, setAll] = useState(false);
  const [find, setFind] = useState("");
  const answered = signs.filter((s) => answers[s.id] !== undefined);
  const rest = signs.filter((s) => answers[s.id] === undefined);
  const usual = rest.filter((s) => s.where !== "danger");
  const shown = [...answered, ...usual].slice(0, Math.max(few, answered.length));
  const letters = find.trim().toLowerCase();
  const called = letters ? signs.filter((s) => s.name.toLowerCase().includes(letters)) : signs;
  const groups = places
    .map((place) => ({ place, of: called.filter((s) => s.where === place) }))
    .filter((g) => g.of.length > 0);
  return (
    <section className="sec" id="seen" aria-labelledby="seen-head">
      <div className="sec-head">
        <h2 id="seen-head">{t("seen.title")}</h2>
        <span className="quiet">
          <span className="only-wide">{t("seen.tap")} · </span>
          {t("seen.left", { count: rest.length })}
        </span>
        <Button
          type="link"
          size="small"
          className={styles.all}
          id="signs-all"
          aria-expanded={all}
          onClick={() => setAll(!all)}
        >
          {t(all ? "seen.fewer" : "seen.all", { count: signs.length })}
        </Button>
      </div>
      {all && (
        <Input
          type="search"
          id="signs-find"
          enterKeyHint="search"
          allowClear
          aria-label={t("seen.find")}
          placeholder={t("seen.find")}
          value={find}
          onChange={(e) => setFind(e.target.value)}
        />
      )}
      {all && groups.length === 0 && <p className="empty">{t("seen.noneFound")}</p>}
      {all ? (
        groups.map((g) => (
          <div key={g.place} className={styles.group}>
            <h3>{t(`seen.where.${g.place}`)}</h3>
            <SignChips signs={g.of} answers={answers} onAnswer={onAnswer} />
          </div>
        ))
      ) : (
        <SignChips signs={signs.filter((s) => shown.includes(s))} answers={answers} onAnswer={onAnswer} />
      )}
    </section>
  );
}

function SignChips({ signs, answers, onAnswer }: Props) {
  const { t } = useTranslation();
  return (
    <Chips>
      {signs.map((s) => {
        const v = answers[s.id];
        const state = v === undefined ? "none" : v ? "yes" : "no";
        return (
          <li key={s.id}>
            <Chip
              answer={state}
              name={s.name}
              word={t(`seen.${state}`)}
              data-sign={s.id}
              data-answer={state}
              onClick={() => onAnswer(s.id, next(v))}
            />
          </li>
        );
      })}
    </Chips>
  );
}
