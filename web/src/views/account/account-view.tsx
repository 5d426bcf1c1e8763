import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, fieldSays, type Problem } from "../../api/client";
import type { FrameProps } from "../../parts/frame";
import { PasswordField } from "../../parts/password-field";
import { StateMark } from "../../parts/state-mark";
import { Strip } from "../../parts/strip";
import { Reads } from "./reads";

/** One's own account: what they read, a new password. */
export default function AccountView(frame: FrameProps) {
  const { t } = useTranslation();
  const [form, setForm] = useState({ password: "", newPassword: "" });
  const put = api.useMutation("put", "/api/v1/me/password", {
    onSuccess: () => setForm({ password: "", newPassword: "" }),
  });
  const problem = put.error as Problem | null;
  const says = fieldSays(problem);
  return (
    <div className="frame plain">
      <Strip {...frame} />
      <main className="whole">
        <header className="top">
          <h1>{frame.me.name}</h1>
        </header>
        <Reads me={frame.me} />
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
          <button type="submit" className="btn main" disabled={put.isPending}>
            {t("account.change")}
          </button>
        </form>
      </main>
    </div>
  );
}
