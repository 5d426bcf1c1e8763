import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { useKept } from "../../kept/use-kept";
import styles from "./run.module.css";

/** How a device tells its hand: steps aloud or not, timers with sound or without. */
export interface Manner {
  aloud: boolean;
  quiet: boolean;
}

const usual = (): Manner => ({ aloud: false, quiet: false });

export function useManner() {
  const { value, change } = useKept<Manner>("run-manner", "", usual);
  return { how: value, change };
}

export function MannerButtons({ how, change }: ReturnType<typeof useManner>) {
  const { t } = useTranslation();
  return (
    <span className={styles["run-manner"]}>
      <Button type="link" onClick={() => change({ quiet: !how.quiet })}>
        {t(how.quiet ? "run.soundOn" : "run.soundOff")}
      </Button>
      {"speechSynthesis" in window && (
        <Button type="link" onClick={() => change({ aloud: !how.aloud })}>
          {t(how.aloud ? "run.silent" : "run.aloud")}
        </Button>
      )}
    </span>
  );
}
