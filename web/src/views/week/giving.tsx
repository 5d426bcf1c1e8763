import { Button } from "antd";
import { useEffect, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import type { Person } from "../../api/client";
import { Choice } from "../../parts/choice";
import { planDay } from "../../parts/format";
import { StateMark } from "../../parts/state-mark";
import type { Load, Place } from "./drag";
import styles from "./week.module.css";

/** A stop goes to somebody of many, on its own day: looked for by name. */
export function Giving({
  load,
  people,
  onGive,
  onEnd,
}: {
  load: Load;
  people: Person[];
  onGive: (load: Load, place: Place) => void;
  onEnd: () => void;
}) {
  const { t } = useTranslation();
  const [to, setTo] = useState("");
  const box = useRef<HTMLFormElement>(null);
  useEffect(() => {
    // It stands over the board, wherever on it the stop is.
    box.current?.scrollIntoView({ block: "center" });
    box.current?.querySelector("input")?.focus();
  }, []);
  return (
    <form
      ref={box}
      className={styles.leaving}
      onSubmit={(e) => {
        e.preventDefault();
        onGive(load, { date: load.date, technicianId: to });
        onEnd();
      }}
    >
      <p className="state-line">
        <StateMark mark="job" />
        <span>{t("week.giving", { street: load.stop.street, on: planDay(load.date) })}</span>
      </p>
      <div>
        <label htmlFor="given-to">{t("week.givenTo")}</label>
        <Choice
          id="given-to"
          value={to}
          options={people.filter((p) => p.id !== load.technicianId).map((p) => ({ value: p.id, label: p.name }))}
          onChange={setTo}
        />
      </div>
      <Button htmlType="submit" id="confirm-give" disabled={to === ""}>
        {t("week.give")}
      </Button>
      <Button type="link" onClick={onEnd}>
        {t("week.giveNot")}
      </Button>
    </form>
  );
}
