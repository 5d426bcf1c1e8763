import type { TFunction } from "i18next";
import type { VisitRecord } from "../api/client";
import { figure, measured } from "./format";
import type { Mark } from "./state-mark";

/** One line of the log: what a visit was, and its detail. */
export function visitLine(v: VisitRecord, t: TFunction): { mark: Mark; what: string; detail: string } {
  const found = v.readings.find((r) => r.phase === "found" && r.tankPsi != null);
  const after = v.readings.find((r) => r.phase === "after" && r.tankPsi != null);
  const at = found ? t("record.at", { rpm: figure(found.rpm, "rpm") }) : "";
  let gauge = found?.tankPsi != null ? `${measured(found.tankPsi, "psi")} ${at}` : "";
  if (found?.tankPsi != null && after?.tankPsi != null) {
    gauge = `${figure(found.tankPsi, "psi")} → ${measured(after.tankPsi, "psi")} ${at}`;
  }
  const detail = [gauge, v.cleaned ? v.confirmedAs : "", v.note].filter(Boolean).join(" · ");
  if (v.cleaned) return { mark: "fine", what: t("record.wasCleaned"), detail };
  if (v.confirmed.startsWith("open:")) return { mark: "open", what: v.confirmedAs, detail };
  if (v.confirmedAs) return { mark: "job", what: v.confirmedAs, detail };
  if (v.chemicalsAt) return { mark: "hold", what: t("record.chemicals"), detail };
  const work = v.works[0];
  if (work) return { mark: "job", what: t(`work.${work.kind}`), detail };
  return { mark: "job", what: t("record.readingsOnly"), detail };
}
