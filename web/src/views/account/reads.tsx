import { useTranslation } from "react-i18next";
import { api, type Me } from "../../api/client";
import { useChanged } from "../../api/use-changed";
import { languages } from "../../i18n";
import { ChoiceField } from "../../parts/choice-field";
import { StateMark } from "../../parts/state-mark";

/** What somebody reads: language and units, as the company does until they choose. */
export function Reads({ me }: { me: Me }) {
  const { t } = useTranslation();
  const changed = useChanged();
  const put = api.useMutation("put", "/api/v1/me/reads", { onSuccess: () => changed("everything") });
  const choose = (part: Partial<{ lang: Me["ownLang"]; units: Me["ownUnits"]; shade: Me["shade"] }>) =>
    put.mutate({ body: { lang: me.ownLang, units: me.ownUnits, shade: me.shade, ...part } });
  return (
    <section className="settings catalogue">
      <h2>{t("account.reads")}</h2>
      <ChoiceField
        id="reads-lang"
        label={t("account.lang")}
        value={me.ownLang}
        options={[
          { value: "", label: t("account.asCompany") },
          ...languages.map((l) => ({ value: l, label: t(`languages.${l}`) })),
        ]}
        onChange={(lang) => choose({ lang })}
      />
      <ChoiceField
        id="reads-units"
        label={t("account.units")}
        value={me.ownUnits}
        options={[
          { value: "", label: t("account.asCompany") },
          ...(["us", "metric"] as const).map((u) => ({ value: u, label: t(`office.units.${u}`) })),
        ]}
        onChange={(units) => choose({ units })}
      />
      <ChoiceField
        id="reads-shade"
        label={t("account.shade")}
        value={me.shade}
        options={(["light", "dark", ""] as const).map((s) => ({
          value: s,
          label: t(`account.shades.${s || "device"}`),
        }))}
        onChange={(shade) => choose({ shade })}
      />
      {put.isError && (
        <p className="state-line" role="alert">
          <StateMark mark="act" />
          {t("state.offline")}
        </p>
      )}
      <p className="quiet">{t("account.readsWhat")}</p>
    </section>
  );
}
