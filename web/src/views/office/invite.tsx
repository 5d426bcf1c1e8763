import { Button, Drawer } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Problem } from "../../api/client";
import { useChanged } from "../../api/use-changed";
import { Tool } from "../../parts/glyphs";
import { LinkWays } from "../../parts/link-ways";
import styles from "../../parts/share-link.module.css";
import { StateMark } from "../../parts/state-mark";

/** A one-time link by which somebody chooses their password: nobody tells one by voice. */
export function Invite({ id, name }: { id: string; name: string }) {
  const { t } = useTranslation();
  const changed = useChanged();
  const [open, setOpen] = useState(false);
  const make = api.useMutation("post", "/api/v1/people/{id}/invitation", { onSuccess: () => changed("people") });
  const problem = make.error as Problem | null;
  return (
    <>
      <Button type="link" data-invite={name} onClick={() => setOpen(true)}>
        {t("people.invite")}
      </Button>
      <Drawer
        open={open}
        onClose={() => setOpen(false)}
        placement="right"
        title={t("people.inviting", { name })}
        closeIcon={<Tool name="no" />}
        destroyOnHidden
      >
        <div className={styles.share}>
          <p>{t("people.inviteWhat", { name })}</p>
          {!make.data && (
            <Button
              type="primary"
              size="large"
              id="invite-make"
              loading={make.isPending}
              onClick={() => make.mutate({ params: { path: { id } } })}
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
          {make.data && <LinkWays link={`${window.location.origin}/invited/${make.data.secret}`} title={name} />}
        </div>
      </Drawer>
    </>
  );
}
