import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { type Bench, type Findings, http, mayPass } from "../../api/client";
import { fileHere } from "../../core/here";
import { useMe } from "../../frame/me";
import { knownOf } from "../../kept/day";
import { runsKept } from "../../kept/runs-here";
import { now, today } from "../../parts/clock";
import { saveFile } from "../../parts/csv";

/** The server's file of a stop; this device's own where steps of a run are here alone, or there is no line. */
async function fileOf(who: string, stop: string, findings: Findings): Promise<object> {
  const runs = runsKept(who, stop);
  const here = async () => {
    const known = await knownOf(stop);
    return known && fileHere(known, findings, runs, now());
  };
  const file = runs.length > 0 ? await here() : undefined;
  if (file) return file;
  const { data, error } = await http
    .POST("/api/v1/stops/{id}/file", { params: { path: { id: stop } }, body: findings })
    .catch((error) => ({ data: undefined, error }));
  const served = data ?? (mayPass(error) ? await here() : undefined);
  if (!served) throw error;
  return served;
}

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
