import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { api } from "../../api/client";
import { useChanged } from "../../api/use-changed";
import { DataTable } from "../../parts/data-table";
import { clock, longDay } from "../../parts/format";

/** Where one is signed in, each ended by itself. */
export function SignIns() {
  const { t } = useTranslation();
  const changed = useChanged();
  const ins = api.useQuery("get", "/api/v1/me/sign-ins");
  const end = api.useMutation("delete", "/api/v1/me/sign-ins/{id}", { onSuccess: () => changed("me") });
  const when = (at: string) => `${longDay(at)}, ${clock(at)}`;
  if (!ins.data) return null;
  return (
    <section className="settings catalogue">
      <h2>{t("account.signIns")}</h2>
      <DataTable
        name="sign-ins"
        label={t("account.signIns")}
        stacks
        rows={ins.data}
        keyOf={(i) => i.id}
        columns={[
          {
            key: "device",
            title: t("account.device"),
            head: true,
            cell: (i) => (
              <>
                {i.device || t("account.someDevice")} {i.here && <b>{t("account.here")}</b>}
              </>
            ),
          },
          { key: "began", title: t("account.began"), cell: (i) => when(i.began) },
          { key: "seen", title: t("account.seen"), cell: (i) => when(i.seen) },
          {
            key: "end",
            title: <span className="sr">{t("account.end")}</span>,
            cell: (i) =>
              !i.here && (
                <Button
                  size="small"
                  disabled={end.isPending}
                  onClick={() => end.mutate({ params: { path: { id: i.id } } })}
                >
                  {t("account.end")}
                </Button>
              ),
          },
        ]}
      />
    </section>
  );
}
