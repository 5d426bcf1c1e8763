import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { useLine } from "../api/line";
import { now, ticks } from "../parts/clock";
import { clock, day } from "../parts/format";
import { StateMark } from "../parts/state-mark";
import styles from "./line-says.module.css";
import { takeNewer, useNewer } from "./worker";

/** A time of this device by the server's clock; with its day where that is another. */
function shownAt(last: number): string {
  const at = new Date(last + now().getTime() - ticks());
  return day(at) === day(now()) ? clock(at) : `${day(at)}, ${clock(at)}`;
}

/** What stands over every page: that there is no line and as of when it is shown, and that a newer version waits. */
export function LineSays({ bare }: { bare: boolean }) {
  const { t } = useTranslation();
  const line = useLine();
  const newer = useNewer();
  return (
    <>
      {!line.there && (
        <p className={`${styles.says} no-print`} id="no-line" role="status">
          <StateMark mark="hold" />
          {t("line.none", { at: shownAt(line.last) })}
        </p>
      )}
      {newer && !bare && (
        <p className={`${styles.says} no-print`} id="newer" role="status">
          {t("line.newer")}
          <Button size="small" type="link" id="take-newer" onClick={takeNewer}>
            {t("line.take")}
          </Button>
        </p>
      )}
    </>
  );
}
