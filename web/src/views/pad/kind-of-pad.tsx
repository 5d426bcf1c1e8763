import { useTranslation } from "react-i18next";
import { useCatalogue } from "./least-form";
import styles from "./pad.module.css";
import type { Least } from "./pad-draft";

/** What a pad may look like, and what of the least it says. */
const kinds = [
  { id: "sand", filter: "sand", heater: false, cell: false, spa: false },
  { id: "cartridge", filter: "cartridge", heater: false, cell: false, spa: false },
  { id: "de", filter: "de", heater: false, cell: false, spa: false },
  { id: "heated", filter: "", heater: true, cell: true, spa: false },
  { id: "spa", filter: "", heater: true, cell: false, spa: true },
  { id: "above", filter: "cartridge", heater: false, cell: false, spa: false },
] as const;

/** Which one looks like this pad: close is fine, it fills in what it tells. */
export function KindOfPad({ least, onChange }: { least: Least; onChange: (least: Least) => void }) {
  const { t } = useTranslation();
  const items = useCatalogue();
  const first = (kind: "heater" | "cell") => items.find((i) => i.kind === kind)?.model ?? "";
  const chosen = (k: (typeof kinds)[number]) =>
    least.looks === k.id ||
    (!least.looks && Boolean(k.filter) && items.find((i) => i.model === least.filter)?.filter?.kind === k.filter);
  const choose = (k: (typeof kinds)[number]) =>
    onChange({
      ...least,
      looks: k.id,
      filter: k.filter && items.find((i) => i.model === least.filter)?.filter?.kind !== k.filter ? "" : least.filter,
      heater: k.heater ? least.heater || first("heater") : "",
      cell: k.cell ? least.cell || first("cell") : "",
      spa: k.spa,
      lengthFt: k.id === "above" ? least.lengthFt || "6" : least.lengthFt,
    });
  return (
    <fieldset>
      <legend>{t("pad.looks.title")}</legend>
      <p className="quiet">{t("pad.looks.what")}</p>
      <div className={styles.kinds}>
        {kinds.map((k) => (
          <button
            type="button"
            key={k.id}
            className={styles.kind}
            aria-pressed={chosen(k)}
            data-looks={k.id}
            onClick={() => choose(k)}
          >
            <Sketched kind={k.id} />
            <b>{t(`pad.looks.${k.id}`)}</b>
            <span className="quiet">{t(`pad.looks.${k.id}What`)}</span>
          </button>
        ))}
      </div>
    </fieldset>
  );
}

/** A pad in a few lines: pump, pipe, tank, and what comes behind it. */
function Sketched({ kind }: { kind: (typeof kinds)[number]["id"] }) {
  return (
    <svg viewBox="0 0 160 76" aria-hidden="true" className={styles.sketched}>
      <path d="M4 58H18M50 50H64M64 50V30H84M116 58H156" className={styles.pipe} />
      <path d="M18 64V50h14v14zM32 52h18v12H32zM12 66h44" />
      {kind === "sand" && <path d="M84 66V42q16-22 32 0v24zM92 26h16M100 26v4M108 26l8-8M88 54h24" />}
      {kind === "cartridge" && <path d="M86 66V34q14-12 28 0v32zM84 48h32M92 52v12M100 52v12M108 52v12" />}
      {kind === "de" && <path d="M84 66V40q16-16 32 0v26zM90 44v20M98 42v22M106 42v22M70 24v26M66 24h8" />}
      {kind === "heated" && <path d="M84 66V40q12-14 24 0v26zM114 66V40h18v26zM118 52l4-4 4 4 4-4M138 60h14v6h-14z" />}
      {kind === "above" && <path d="M84 66V36h24v30zM84 44h24M112 66q20-44 40-20" />}
      {kind === "spa" && (
        <path d="M84 66V40q12-14 24 0v26zM116 50a6 6 0 1 0 12 0 6 6 0 1 0-12 0M122 44v-8M4 36q6-6 12 0t12 0M134 34q6-6 12 0t10 0" />
      )}
    </svg>
  );
}
