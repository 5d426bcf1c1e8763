import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { useLine } from "../api/line";
import { clock } from "../parts/format";
import { StateMark } from "../parts/state-mark";
import styles from "./line-says.module.css";
import { takeNewer, useNewer } from "./worker";

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
          {t("line.none", { at: clock(new Date(line.last)) })}
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
