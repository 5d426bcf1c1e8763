import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Person, type Problem } from "../../api/client";
import { useChanged } from "../../api/use-changed";
import { Choice } from "../../parts/choice";
import { StateMark } from "../../parts/state-mark";
import styles from "./week.module.css";

/** A technician leaves: who takes the pools over. Asked before anything is done. */
export function Leaving({ id, people, onEnd }: { id: string; people: Person[]; onEnd: () => void }) {
  const { t } = useTranslation();
  const changed = useChanged();
  const [to, setTo] = useState("");
  const leave = api.useMutation("post", "/api/v1/technicians/{id}/leave");
  const who = people.find((p) => p.id === id)?.name ?? "";
  const problem = leave.error as Problem | null;
  return (
    <form
      className={styles.leaving}
      onSubmit={(e) => {
        e.preventDefault();
        leave.mutate(
          { params: { path: { id } }, body: to ? { to } : {} },
          {
            onSuccess: () => {
              changed("people");
              onEnd();
            },
          },
        );
      }}
    >
      <p className="state-line">
        <StateMark mark="act" />
        <span>{t("week.leaving", { who })}</span>
      </p>
      <div>
        <label htmlFor="takes-over">{t("week.takesOver")}</label>
        <Choice
          id="takes-over"
          value={to}
          options={[
            { value: "", label: t("week.nobodyYet") },
            ...people.filter((p) => p.id !== id).map((p) => ({ value: p.id, label: p.name })),
          ]}
          onChange={setTo}
        />
      </div>
      <Button htmlType="submit" id="confirm-leave" disabled={leave.isPending}>
        {t("week.confirmLeave", { who })}
      </Button>
      <Button type="link" onClick={onEnd}>
        {t("week.keep", { who })}
      </Button>
      {problem && <p role="alert">{problem.errors?.[0]?.message ?? problem.detail ?? t("state.offline")}</p>}
    </form>
  );
}
