import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { v7 as uuid } from "uuid";
import { api, http, type Me, type PersonRow } from "../../api/client";
import { ChoiceField } from "../../parts/choice-field";
import { DataTable } from "../../parts/data-table";
import { TickField } from "../../parts/figure-field";
import { PasswordField } from "../../parts/password-field";
import { Loading, Trouble } from "../../parts/quiet-states";
import { RecordEnd, useRecordForm } from "../../parts/record-form";
import { WordsField } from "../../parts/words-field";
import { Invite } from "./invite";
import styles from "./office.module.css";

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
    <section className={styles.people}>
      <p className="quiet">{t("people.what")}</p>
      <DataTable
        name="people"
        label={t("office.rooms.people")}
        stacks
        rows={people.data}
        keyOf={(p) => p.id}
        attrs={(p) => ({ "data-person": p.login })}
        columns={[
          {
            key: "name",
            title: t("people.name"),
            cell: (p) => (
              <>
                <b>{p.name}</b> {p.mine && <span className="quiet">{t("people.you")}</span>}{" "}
                {!p.active && <span className="quiet">{t("people.left")}</span>}
              </>
            ),
          },
          { key: "login", title: t("people.login"), cell: (p) => p.login },
          { key: "role", title: t("people.role"), cell: (p) => t(`people.roles.${p.role}`) },
          {
            key: "change",
            title: <span className="sr">{t("record.change")}</span>,
            cell: (p) =>
              may(p.role) && (
                <>
                  <Button type="link" onClick={() => setOpen(p.id)}>
                    {t("record.change")}
                  </Button>
                  {p.active && !p.mine && <Invite id={p.id} name={p.name} />}
                </>
              ),
          },
        ]}
      />
      {open === null ? (
        <Button id="person-add" onClick={() => setOpen("")}>
          {t("people.add")}
        </Button>
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

const typed = (p: PersonRow) => ({ ...p, password: "" });

function Form({ me, person, onDone }: { me: Me; person?: PersonRow; onDone: () => void }) {
  const { t } = useTranslation();
  const [stands] = useState(() => person ?? somebody());
  const record = useRecordForm(stands, typed, {
    body: (form) => ({ ...form, password: form.password || undefined }),
    put: (body) => http.PUT("/api/v1/people", { body }),
    changed: "people",
    onSaved: onDone,
  });
  const { form, set, says } = record;
  return (
    <form className="part-form" onSubmit={record.submit}>
      <b>{person ? t("people.changing", { name: person.name }) : t("people.add")}</b>
      <WordsField
        id="person-name"
        label={t("people.name")}
        value={form.name}
        say={says.name}
        onChange={(name) => set({ name })}
      />
      <WordsField
        id="person-login"
        label={t("people.login")}
        value={form.login}
        say={says.login}
        onChange={(login) => set({ login })}
      />
      <ChoiceField
        id="person-role"
        label={t("people.role")}
        value={form.role}
        say={says.role}
        options={roles
          .filter((r) => me.role === "owner" || r === "technician")
          .map((r) => ({ value: r, label: t(`people.roles.${r}`) }))}
        onChange={(role) => set({ role })}
      />
      <p className="quiet">{t(`people.may.${form.role}`)}</p>
      <PasswordField
        id="person-password"
        label={t("people.password")}
        value={form.password}
        say={says.password}
        hint={t(person ? "people.keepPassword" : "people.orInvite")}
        onChange={(password) => set({ password })}
      />
      {person && <TickField label={t("people.active")} checked={form.active} onChange={(active) => set({ active })} />}
      {says.active && (
        <p className="field-says" role="alert">
          {says.active}
        </p>
      )}
      <RecordEnd record={record} id="person-save" small theirs={(r) => t("record.nowSays", { text: r.name })}>
        <Button type="link" size="small" onClick={onDone}>
          {t("log.back")}
        </Button>
      </RecordEnd>
    </form>
  );
}
