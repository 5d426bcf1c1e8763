import { Button, Form, Input } from "antd";
import { useTranslation } from "react-i18next";
import { api, fieldSays, type Problem } from "../../api/client";
import { Brand } from "../../parts/glyphs";
import { StateMark } from "../../parts/state-mark";
import styles from "./signin.module.css";

/** What a sign-in is refused with that asks for a code too. */
const codeAsked = "urn:fairlap:problem:code";

export default function SignInView({ demo, onDone }: { demo: boolean; onDone: () => void }) {
  const { t } = useTranslation();
  const signIn = api.useMutation("post", "/api/v1/sign-in", { onSuccess: onDone });
  const asRole = api.useMutation("post", "/api/v1/demo/sign-in", { onSuccess: onDone });
  const error = (signIn.error ?? asRole.error) as Problem | null;
  const code = fieldSays(error).code;
  const asks = Boolean(code) || error?.type === codeAsked;
  return (
    <main className={styles["sign-in"]}>
      <h1>
        <Brand /> {t("brand")}
      </h1>
      <p className="lead">{t("signIn.what")}</p>
      {error && (
        <p className="state-line" role="alert">
          <StateMark mark="stop" />
          <b>{error.status ? (code ?? error.detail) : t("state.offline")}</b>
        </p>
      )}
      {demo ? (
        <section>
          <h2>{t("signIn.demoTitle")}</h2>
          <p>{t("signIn.demo")}</p>
          {(["technician", "office", "owner"] as const).map((role) => (
            <Button
              key={role}
              block
              size="large"
              type={role === "technician" ? "primary" : "default"}
              id={`as-${role}`}
              loading={asRole.isPending}
              onClick={() => asRole.mutate({ body: { role } })}
            >
              {t(`signIn.as.${role}`)}
            </Button>
          ))}
        </section>
      ) : (
        <Form layout="vertical" requiredMark={false} onFinish={(body) => signIn.mutate({ body })}>
          <Form.Item
            name="login"
            label={t("signIn.login")}
            rules={[{ required: true, message: t("signIn.needLogin") }]}
          >
            <Input autoComplete="username" autoCapitalize="none" />
          </Form.Item>
          <Form.Item
            name="password"
            label={t("signIn.password")}
            rules={[{ required: true, message: t("signIn.needPassword") }]}
          >
            <Input.Password autoComplete="current-password" />
          </Form.Item>
          {asks && (
            <Form.Item name="code" label={t("signIn.code")}>
              <Input autoComplete="one-time-code" inputMode="numeric" maxLength={6} autoFocus />
            </Form.Item>
          )}
          <Button type="primary" size="large" block htmlType="submit" loading={signIn.isPending}>
            {t("signIn.go")}
          </Button>
        </Form>
      )}
    </main>
  );
}
