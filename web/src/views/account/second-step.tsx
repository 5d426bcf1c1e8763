import { Button, Input, QRCode } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, fieldSays, type Problem } from "../../api/client";
import { useChanged } from "../../api/use-changed";
import { FieldLine } from "../../parts/field-line";
import { PasswordField } from "../../parts/password-field";
import { StateMark } from "../../parts/state-mark";

/** A second step of signing in: codes of an authenticator, from when one was told. */
export function SecondStep() {
  const { t } = useTranslation();
  const changed = useChanged();
  const [typed, setTyped] = useState({ password: "", code: "" });
  const step = api.useQuery("get", "/api/v1/me/second-step");
  const make = api.useMutation("post", "/api/v1/me/second-step");
  const set = api.useMutation("put", "/api/v1/me/second-step", {
    onSuccess: () => {
      make.reset();
      setTyped({ password: "", code: "" });
      changed("me");
    },
  });
  const problem = set.error as Problem | null;
  const says = fieldSays(problem);
  if (!step.data) return null;
  const on = step.data.on;
  const key = make.data;
  return (
    <form
      className="settings catalogue"
      onSubmit={(e) => {
        e.preventDefault();
        set.mutate({ body: { ...typed, key: on ? "" : (key?.key ?? "") } });
      }}
    >
      <h2>{t("account.step")}</h2>
      <p className="state-line">
        <StateMark mark={on ? "fine" : "hold"} />
        {t(on ? "account.stepOn" : "account.stepOff")}
      </p>
      {!on && !key && (
        <Button id="step-make" loading={make.isPending} onClick={() => make.mutate({})}>
          {t("account.stepMake")}
        </Button>
      )}
      {key && !on && (
        <>
          <p>{t("account.stepRead")}</p>
          <QRCode type="svg" value={key.address} size={180} color="black" bgColor="white" />
          <p className="quiet">
            {t("account.stepKey")} <code>{key.key}</code>
          </p>
          <FieldLine id="step-code" label={t("signIn.code")} say={says.code}>
            <Input
              id="step-code"
              autoComplete="one-time-code"
              inputMode="numeric"
              maxLength={6}
              value={typed.code}
              onChange={(e) => setTyped({ ...typed, code: e.target.value })}
            />
          </FieldLine>
        </>
      )}
      {(on || key) && (
        <>
          <PasswordField
            id="step-password"
            label={t("account.old")}
            value={typed.password}
            say={says.password}
            current
            onChange={(password) => setTyped({ ...typed, password })}
          />
          {problem && problem.status !== 422 && <p role="alert">{problem.detail ?? t("state.offline")}</p>}
          <Button htmlType="submit" disabled={set.isPending}>
            {t(on ? "account.stepEnd" : "account.stepSet")}
          </Button>
        </>
      )}
    </form>
  );
}
