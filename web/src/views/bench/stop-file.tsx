import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { type Bench, type Findings, http } from "../../api/client";
import { fileHere } from "../../core/here";
import { useMe } from "../../frame/me";
import { now, today } from "../../parts/clock";
import { saveFile } from "../../parts/csv";
import { orHere } from "./or-here";

/** The file as the server has the stop, or as this device has it. */
const fileOf = (who: string, stop: string, findings: Findings) =>
  orHere<object>(
    who,
    stop,
    async () => {
      const { data, error } = await http.POST("/api/v1/stops/{id}/file", {
        params: { path: { id: stop } },
        body: findings,
      });
      if (!data) throw error;
      return data;
    },
    (known, runs) => fileHere(known, findings, runs, now()),
  );

/** Saves the stop as a file that anybody can judge again, as it was found. */
export function StopFile({ bench, findings }: { bench: Bench; findings: Findings }) {
  const { t } = useTranslation();
  const { id: who } = useMe();
  const [state, setState] = useState<"" | "busy" | "failed">("");
  const save = async () => {
    setState("busy");
    try {
      const file = await fileOf(who, bench.stopId, findings);
      const name = bench.pool.street.replace(/[^\p{L}\p{N}]+/gu, "-").toLowerCase();
      saveFile(`${name}-${today()}.stop.json`, JSON.stringify(file, null, 2), "application/json");
      setState("");
    } catch {
      setState("failed");
    }
  };
  return (
    <section className="sec">
      <Button id="stop-file" size="small" loading={state === "busy"} onClick={save}>
        {t("bench.saveFile")}
      </Button>
      {state === "failed" && (
        <p className="quiet" role="alert">
          {t("bench.saveFileFailed")}
        </p>
      )}
    </section>
  );
}
