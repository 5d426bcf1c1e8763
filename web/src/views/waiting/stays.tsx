import { useTranslation } from "react-i18next";
import { neededBy } from "../../kept/sending";
import { useTries } from "../../kept/tries";
import type { Waits } from "../../kept/waiting";
import { waitsFor } from "../../parts/waits-for";

/** How many tries in vain are nothing to tell of: a line comes and goes. */
const patient = 3;

/** Why something is still here: what it waits for, or what its tries came to. */
export function Stays({ waits: w, all }: { waits: Waits; all: Waits[] }) {
  const { t } = useTranslation();
  const tries = useTries(w);
  const other = neededBy(w, all);
  if (other) return <span className="quiet">{t("waiting.needs", { what: waitsFor(t, other) })}</span>;
  if (!tries || (tries.count < patient && (tries.why === "line" || tries.why === "busy"))) return null;
  return (
    <span className="field-says" role="status" data-stays={tries.why}>
      {t(`waiting.stays.${tries.why}`, { count: tries.count })}
    </span>
  );
}
