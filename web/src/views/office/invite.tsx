import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { api } from "../../api/client";
import { useChanged } from "../../api/use-changed";
import { LinkDrawer } from "../../parts/link-drawer";

/** A one-time link by which somebody chooses their password: nobody tells one by voice. */
export function Invite({ id, name }: { id: string; name: string }) {
  const { t } = useTranslation();
  const changed = useChanged();
  const make = api.useMutation("post", "/api/v1/people/{id}/invitation", { onSuccess: () => changed("people") });
  return (
    <LinkDrawer
      id="invite"
      title={t("people.inviting", { name })}
      what={t("people.inviteWhat", { name })}
      link={make.data && `${window.location.origin}/invited/${make.data.secret}`}
      about={name}
      busy={make.isPending}
      error={make.error}
      onMake={() => make.mutate({ params: { path: { id } } })}
      opener={(open) => (
        <Button type="link" data-invite={name} onClick={open}>
          {t("people.invite")}
        </Button>
      )}
    />
  );
}
