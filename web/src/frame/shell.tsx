import { type ReactNode, useState } from "react";
import { useTranslation } from "react-i18next";
import { useDay } from "../kept/day";
import { useReceipts } from "../kept/receipts";
import { useBadge } from "../kept/use-badge";
import { useSender } from "../kept/use-sender";
import { overLater } from "../parts/later";
import { useWide } from "../parts/use-wide";
import { BottomBar } from "./bottom-bar";
import { LineSays } from "./line-says";
import { type Over, OverContext } from "./over";
import { PrintLine } from "./print-line";
import styles from "./shell.module.css";
import { Sider } from "./sider";
import { useKeys } from "./use-keys";

const Find = overLater(() => import("./find"));
const Keys = overLater(() => import("./keys"));
const More = overLater(() => import("./more"));

/** What stands around every page: the side on a desk, the bar on a phone, and what opens over both. */
export function Shell({ children, bare }: { children: ReactNode; bare: boolean }) {
  const { t } = useTranslation();
  const wide = useWide();
  const [over, setOver] = useState<Over | null>(null);
  useKeys(setOver);
  useSender();
  useReceipts();
  useBadge();
  useDay();
  const close = () => setOver(null);
  return (
    <OverContext value={setOver}>
      <div className={styles.shell} data-bare={bare || undefined}>
        <a className={styles.skip} href="#page">
          {t("nav.skip")}
        </a>
        {wide && <Sider />}
        <div className={styles.page}>
          <LineSays bare={bare} />
          <PrintLine />
          {children}
        </div>
        {!wide && !bare && <BottomBar />}
      </div>
      <Find open={over === "find"} onClose={close} />
      <Keys open={over === "keys"} onClose={close} />
      <More open={over === "more"} onClose={close} />
    </OverContext>
  );
}
