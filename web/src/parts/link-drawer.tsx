import { Button, Drawer } from "antd";
import { type ReactNode, useState } from "react";
import { useTranslation } from "react-i18next";
import type { Problem } from "../api/client";
import { Tool } from "./glyphs";
import styles from "./link-drawer.module.css";
import { LinkWays } from "./link-ways";
import { StateMark } from "./state-mark";

/** A link that is made by one tap in a drawer, and then copied, sent or held up. */
export function LinkDrawer({
  id,
  title,
  what,
  link,
  about,
  busy,
  error,
  onMake,
  opener,
}: {
  /** Begins the ids of its buttons. */
  id: string;
  title: string;
  what: string;
  link?: string;
  /** What is told of the link where it is sent. */
  about: string;
  busy: boolean;
  error: unknown;
  onMake: () => void;
  opener: (open: () => void) => ReactNode;
}) {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  const problem = error as Problem | null;
  return (
    <>
      {opener(() => setOpen(true))}
      <Drawer
        open={open}
        onClose={() => setOpen(false)}
        placement="right"
        title={title}
        closeIcon={<Tool name="no" />}
        destroyOnHidden
      >
        <div className={styles.share}>
          <p>{what}</p>
          {!link && (
            <Button type="primary" size="large" id={`${id}-make`} loading={busy} onClick={onMake}>
              {t("share.make")}
            </Button>
          )}
          {problem && (
            <p className="state-line" role="alert">
              <StateMark mark="act" />
              {problem.detail ?? t("state.offline")}
            </p>
          )}
          {link && <LinkWays link={link} title={about} />}
        </div>
      </Drawer>
    </>
  );
}
