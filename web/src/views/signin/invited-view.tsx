import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useParams } from "react-router";
import { api, fieldSays, type Problem } from "../../api/client";
import { browsers, useLanguage } from "../../i18n";
import { Brand } from "../../parts/glyphs";
import { PasswordField } from "../../parts/password-field";
import { Loading, Trouble } from "../../parts/quiet-states";
import styles from "./signin.module.css";

/** What a one-time link opens: its person chooses their password, and is signed in. */
export default function InvitedView() {
  const { t } = useTranslation();
  useLanguage(browsers());
  const { secret = "" } = useParams();
  const [password, setPassword] = useState("");
  const path = { path: { secret } };
  const invited = api.useQuery("get", "/api/v1/invitations/{secret}", { params: path }, { retry: false });
  const accept = api.useMutation("post", "/api/v1/invitations/{secret}", {
    onSuccess: () => window.location.assign("/"),
  });
  const problem = accept.error as Problem | null;
  if ((invited.error as Problem | null)?.status === 404) {
    return (
      <main className="quiet-state">
        <h1>{t("invited.ended")}</h1>
        <p>{t("invited.askAgain")}</p>
      </main>
    );
  }
  if (invited.isError) return <Trouble error={invited.error} onRetry={() => invited.refetch()} />;
  if (!invited.data) return <Loading />;
  return (
    <main className={styles["sign-in"]}>
      <h1>
        <Brand /> {invited.data.company}
      </h1>
      <p className="lead">{t("invited.what", { name: invited.data.name, login: invited.data.login })}</p>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          accept.mutate({ params: path, body: { password } });
        }}
      >
        <section>
          <PasswordField
            id="invited-password"
            label={t("signIn.password")}
            value={password}
            hint={t("invited.hint")}
            say={fieldSays(problem).password}
            onChange={setPassword}
          />
          {problem && problem.status !== 422 && <p role="alert">{problem.detail ?? t("state.offline")}</p>}
          <Button type="primary" size="large" block htmlType="submit" loading={accept.isPending}>
            {t("signIn.go")}
          </Button>
        </section>
      </form>
    </main>
  );
}
