import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { api } from "../api/client";
import { useChanged } from "../api/use-changed";
import { LinkDrawer } from "./link-drawer";

/** Days that a link made from here is good for; another length is chosen on the page that lists them. */
const days = 90;

/** A link to the customer's papers. */
export function ShareLink({ pool, street }: { pool: string; street: string }) {
  const { t } = useTranslation();
  const changed = useChanged();
  const make = api.useMutation("post", "/api/v1/pools/{id}/links", { onSuccess: () => changed("beside") });
  return (
    <LinkDrawer
      id="share"
      title={t("share.title", { street })}
      what={t("share.what", { count: days })}
      link={make.data && `${window.location.origin}/shared/${make.data.secret}`}
      about={street}
      busy={make.isPending}
      error={make.error}
      onMake={() => make.mutate({ params: { path: { id: pool } }, body: { days } })}
      opener={(open) => (
        <Button id="share" onClick={open}>
          {t("share.open")}
        </Button>
      )}
    />
  );
}
