import { useTranslation } from "react-i18next";
import { useNavigate, useParams } from "react-router";
import { api } from "../../api/client";
import { Choice } from "../../parts/choice";
import styles from "./lap.module.css";
import { LapFrame } from "./lap-view";

/** A technician's day as the desk sees it, which chooses whose. */
export default function DayView() {
  const { t } = useTranslation();
  const go = useNavigate();
  const { id: technician = "" } = useParams();
  const people = api.useQuery("get", "/api/v1/technicians");
  const lap = api.useQuery("get", "/api/v1/lap", { params: { query: { technician } } });
  return (
    <LapFrame
      lap={lap}
      mine={false}
      whose={
        <header>
          <div className={styles.whose}>
            <label htmlFor="whose-lap">{t("lap.whose")}</label>
            <Choice
              id="whose-lap"
              value={technician}
              options={people.data?.map((p) => ({ value: p.id, label: p.name })) ?? []}
              onChange={(id) => go(`/days/${id}`)}
            />
          </div>
        </header>
      }
    />
  );
}
