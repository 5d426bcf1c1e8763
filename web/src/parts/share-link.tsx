import { Button, Drawer } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Problem } from "../api/client";
import { useChanged } from "../api/use-changed";
import { Tool } from "./glyphs";
import { LinkWays } from "./link-ways";
import styles from "./share-link.module.css";
import { StateMark } from "./state-mark";

/** Days that a link made from here is good for; another length is chosen on the page that lists them. */
const days = 90;

/** A link to the customer's papers: made by one tap, copied, shared, or held up to be photographed. */
export function ShareLink({ pool, street }: { pool: string; street: string }) {
  const { t } = useTranslation();
  const changed = useChanged();
  const [open, setOpen] = useState(false);
  const make = api.useMutation("post", "/api/v1/pools/{id}/links", { onSuccess: () => changed("beside") });
  const link = make.data && `${window.location.origin}/shared/${make.data.secret}`;
  const problem = make.error as Problem | null;
  return (
    <>
      <Button id="share" onClick={() => setOpen(true)}>
        {t("share.open")}
      </Button>
      <Drawer
        open={open}
        onClose={() => setOpen(false)}
        placement="right"
        title={t("share.title", { street })}
        closeIcon={<Tool name="no" />}
        destroyOnHidden
      >
        <div className={styles.share}>
          <p>{t("share.what", { count: days })}</p>
          {!link && (
            <Button
              type="primary"
              size="large"
              id="share-make"
              loading={make.isPending}
              onClick={() => make.mutate({ params: { path: { id: pool } }, body: { days } })}
            >
              {t("share.make")}
            </Button>
          )}
          {problem && (
            <p className="state-line" role="alert">
              <StateMark mark="act" />
              {problem.detail ?? t("state.offline")}
            </p>
          )}
          {link && <LinkWays link={link} title={street} />}
        </div>
      </Drawer>
    </>
  );
}
