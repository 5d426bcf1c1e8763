import { useTranslation } from "react-i18next";
import type { PadOnRecord } from "../../api/client";
import { longDay } from "../../parts/format";
import styles from "./pad.module.css";

/** How the description came about: every revision and what it changed. */
export function Revisions({ pad }: { pad: PadOnRecord }) {
  const { t } = useTranslation();
  return (
    <section className={`sec ${styles.revisions}`}>
      <h2>{t("pad.revisions")}</h2>
      <ol>
        {pad.revisions.map((r) => (
          <li key={r.revision}>
            <b>{t("pad.revision", { n: r.revision })}</b> · {longDay(r.at)}
            {r.by && ` · ${r.by}`} · {t(r.revision === 1 ? "pad.firstRevision" : `pad.reason.${r.reason}`)}
            {r.note && <p>{r.note}</p>}
            {r.changes.length > 0 && (
              <ul>
                {r.changes.map((c) => (
                  <li key={c.path}>
                    <code>{c.path}</code> {c.was || t("pad.notThere")} → {c.is || t("pad.gone")}
                  </li>
                ))}
              </ul>
            )}
          </li>
        ))}
      </ol>
      <p className="pad-files">
        {(["json", "inp"] as const).map((f) => (
          <a key={f} className="plain" href={`/api/v1/pools/${pad.poolId}/pad/file?format=${f}`} download>
            {t(`pad.download.${f}`)}
          </a>
        ))}
      </p>
    </section>
  );
}
