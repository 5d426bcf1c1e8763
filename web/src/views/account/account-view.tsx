import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, fieldSays, type Problem } from "../../api/client";
import { useMe } from "../../frame/me";
import { Page } from "../../frame/page";
import { PasswordField } from "../../parts/password-field";
import { StateMark } from "../../parts/state-mark";
import { Reads } from "./reads";
import { SecondStep } from "./second-step";
import { SignIns } from "./sign-ins";

/** One's own account: what they read, a new password. */
export default function AccountView() {
  const { t } = useTranslation();
  const me = useMe();
  const [form, setForm] = useState({ password: "", newPassword: "" });
  const put = api.useMutation("put", "/api/v1/me/password", {
    onSuccess: () => setForm({ password: "", newPassword: "" }),
  });
  const problem = put.error as Problem | null;
  const says = fieldSays(problem);
  return (
    <Page title={me.name}>
      <Reads me={me} />
      <form
        className="settings catalogue"
        onSubmit={(e) => {
          e.preventDefault();
          put.mutate({ body: form });
        }}
      >
        <h2>{t("account.password")}</h2>
        <PasswordField
          id="password-old"
          label={t("account.old")}
          value={form.password}
          say={says.password}
          current
          onChange={(password) => setForm({ ...form, password })}
        />
        <PasswordField
          id="password-new"
          label={t("account.new")}
          value={form.newPassword}
          say={says.newPassword}
          onChange={(newPassword) => setForm({ ...form, newPassword })}
        />
        {problem && problem.status !== 422 && <p role="alert">{problem.detail ?? t("state.offline")}</p>}
        {put.isSuccess && (
          <p className="state-line" role="status">
            <StateMark mark="fine" />
            {t("account.changed")}
          </p>
        )}
        <Button htmlType="submit" type="primary" size="large" disabled={put.isPending}>
          {t("account.change")}
        </Button>
      </form>
      {!me.demo && <SecondStep />}
      <SignIns />
    </Page>
  );
}
