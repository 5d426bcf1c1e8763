import { Popover } from "antd";
import type { ReactNode } from "react";
import styles from "./term.module.css";

/** What a term means, opened by the button that asked. */
export default function TermSays({ says, children }: { says: string; children: ReactNode }) {
  return (
    <Popover defaultOpen trigger="click" content={<p className={styles.says}>{says}</p>}>
      {children}
    </Popover>
  );
}
