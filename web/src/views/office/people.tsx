import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { v7 as uuid } from "uuid";
import { api, fieldSays, type Me, type PersonRow, type Problem } from "../../api/client";
import { ChoiceField, FigureField, TickField } from "../../parts/figure-field";
import { PasswordField } from "../../parts/password-field";
import { Loading, Trouble } from "../../parts/quiet-states";
import { StateMark } from "../../parts/state-mark";

const roles = ["technician", "office", "owner"] as const;

/** Who signs in, as what. */
export function People({ me }: { me: Me }) {
  const { t } = useTranslation();
  const people = api.useQuery("get", "/api/v1/people");
  const [open, setOpen] = useState<string | null>(null);
  if (people.isError && !people.data) return <Trouble error={people.error} onRetry={() => people.refetch()} />;
  if (!people.data) return <Loading />;
  const may = (role: string) => me.role === "owner" || role === "technician";
  return (
    <section className="people">
      <p className="quiet">{t("people.what")}</p>
      <table className="twin">
        <thead>
          <tr>
            <th>{t("people.name")}</th>
            <th>{t("people.login")}</th>
            <th>{t("people.role")}</th>
            <th>
              <span className="sr">{t("record.change")}</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {people.data.map((p) => (
            <tr key={p.id} data-person={p.login}>
              <td>
                <b>{p.name}</b> {p.mine && <span className="quiet">{t("people.you")}</span>}{" "}
                {!p.active && <span className="quiet">{t("people.left")}</span>}
              </td>
              <td>{p.login}</td>
              <td>{t(`people.roles.${p.role}`)}</td>
              <td>
                {may(p.role) && (
                  <button type="button" className="as-table" onClick={() => setOpen(p.id)}>
                    {t("record.change")}
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {open === null ? (
        <button type="button" className="btn" id="person-add" onClick={() => setOpen("")}>
          {t("people.add")}
        </button>
      ) : (
        <Form key={open} me={me} person={people.data.find((p) => p.id === open)} onDone={() => setOpen(null)} />
      )}
    </section>
  );
}

const somebody = (): PersonRow => ({
  id: uuid(),
  login: "",
  name: "",
  role: "technician",
  active: true,
  version: 0,
  mine: false,
});

function Form({ me, person, onDone }: { me: Me; person?: PersonRow; onDone: () => void }) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [form, setForm] = useState(() => ({ ...(person ?? somebody()), password: "" }));
  const put = api.useMutation("put", "/api/v1/people", {
    onSuccess: () => {
      queries.invalidateQueries();
      onDone();
    },
  });
  const problem = put.error as Problem | null;
  const theirs = problem?.status === 409 ? (problem.errors?.[0]?.value as PersonRow | undefined) : undefined;
  const says = fieldSays(problem);
  return (
    <form
      className="part-form"
      onSubmit={(e) => {
        e.preventDefault();
        put.mutate({
          body: { ...form, password: form.password || undefined, version: theirs?.version ?? form.version },
        });
      }}
    >
      <b>{person ? t("people.changing", { name: person.name }) : t("people.add")}</b>
      <FigureField
        id="person-name"
        words
        label={t("people.name")}
        value={form.name}
        say={says.name}
        onChange={(name) => setForm({ ...form, name })}
      />
      <FigureField
        id="person-login"
        words
        label={t("people.login")}
        value={form.login}
        say={says.login}
        onChange={(login) => setForm({ ...form, login })}
      />
      <ChoiceField
        id="person-role"
        label={t("people.role")}
        value={form.role}
        say={says.role}
        options={roles
          .filter((r) => me.role === "owner" || r === "technician")
          .map((r) => ({ value: r, label: t(`people.roles.${r}`) }))}
        onChange={(role) => setForm({ ...form, role })}
      />
      <p className="quiet">{t(`people.may.${form.role}`)}</p>
      <PasswordField
        id="person-password"
        label={t("people.password")}
        value={form.password}
        say={says.password}
        hint={person ? t("people.keepPassword") : undefined}
        onChange={(password) => setForm({ ...form, password })}
      />
      {person && (
        <TickField
          label={t("people.active")}
          checked={form.active}
          onChange={(active) => setForm({ ...form, active })}
        />
      )}
      {says.active && (
        <p className="field-says" role="alert">
          {says.active}
        </p>
      )}
      {problem && problem.status !== 422 && (
        <p className="state-line" role="alert">
          <StateMark mark="act" />
          {problem.detail ?? t("state.offline")} {theirs && t("record.nowSays", { text: theirs.name })}
        </p>
      )}
      <span className="part-acts">
        <button type="submit" className="btn small" id="person-save" disabled={put.isPending}>
          {t(theirs ? "record.keepMine" : "record.save")}
        </button>
        <button type="button" className="btn plain small" onClick={onDone}>
          {t("log.back")}
        </button>
      </span>
    </form>
  );
}
