import { Collapse } from "antd";
import { type ReactNode, useEffect, useState } from "react";
import styles from "./fold.module.css";
import { Tool } from "./glyphs";

/** What opens under its head: why a figure is what it is, what is seldom asked for. */
export function Fold({
  head,
  id,
  open = false,
  onOpen,
  children,
}: {
  head: ReactNode;
  id?: string;
  /** Open from the start, and from whenever this turns true. */
  open?: boolean;
  onOpen?: (open: boolean) => void;
  children: ReactNode;
}) {
  const [shown, setShown] = useState(open);
  useEffect(() => {
    if (open) setShown(true);
  }, [open]);
  return (
    <div id={id} className={styles.fold} data-open={shown}>
      <Collapse
        ghost
        activeKey={shown ? ["in"] : []}
        expandIcon={({ isActive }) => <Tool name={isActive ? "up" : "down"} size={16} />}
        items={[{ key: "in", label: head, children }]}
        onChange={(keys) => {
          setShown(keys.length > 0);
          onOpen?.(keys.length > 0);
        }}
      />
    </div>
  );
}
