import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { v7 as uuid } from "uuid";
import { api, http, type PoolAbout, type Problem } from "../../api/client";
import { useChanged } from "../../api/use-changed";
import { languages } from "../../i18n";
import { ChoiceField } from "../../parts/choice-field";
import { RecordEnd, useRecordForm } from "../../parts/record-form";
import { StateMark } from "../../parts/state-mark";
import { WordsField } from "../../parts/words-field";
import styles from "./about.module.css";

type Customer = NonNullable<PoolAbout["customer"]>;

/** Whose pool it is, and how to reach them. */
export function CustomerPart({ about }: { about: PoolAbout }) {
  const { t } = useTranslation();
  const who = about.customer;
  const [open, setOpen] = useState(false);
  return (
    <section>
      <h2>{t("customer.title")}</h2>
      {!who && <p className="empty">{t("customer.none")}</p>}
      {who && (
        <p className={styles.customer}>
          <b>{who.erased ? t("customer.erased") : who.name}</b>
          {who.phone && <a href={`tel:${who.phone.replace(/[^\d+]/g, "")}`}>{who.phone}</a>}
          {who.email && <a href={`mailto:${who.email}`}>{who.email}</a>}
          {who.note && <span>{who.note}</span>}
        </p>
      )}
      {about.mayEdit && !open && (
        <Button id="customer-change" onClick={() => setOpen(true)}>
          {t(who && !who.erased ? "record.change" : "customer.name")}
        </Button>
      )}
      {open && <Form about={about} onDone={() => setOpen(false)} />}
    </section>
  );
}

/** Of somebody who is known already, what was typed is theirs. */
const asTyped = (c: Customer) => c;

const nobody = (): Customer => ({ id: uuid(), name: "", phone: "", email: "", note: "", version: 0, erased: false });

function Form({ about, onDone }: { about: PoolAbout; onDone: () => void }) {
  const { t } = useTranslation();
  const changed = useChanged();
  const [stands, setStands] = useState<Customer>(() =>
    about.customer && !about.customer.erased ? about.customer : nobody(),
  );
  const [problem, setProblem] = useState<Problem | null>(null);
  const [sure, setSure] = useState(false);
  const record = useRecordForm(stands, asTyped, {
    body: (form) => form,
    put: async (body) => {
      const kept = await http.PUT("/api/v1/customers", { body });
      if (kept.error || !kept.data) return kept;
      if (about.customerId !== kept.data.id) {
        const {
          street,
          which,
          town,
          gallons,
          surface,
          inGround,
          accessNote,
          weekday,
          technicianId,
          minutes,
          lapOrder,
          lat,
          lon,
        } = about;
        const { seasonOpens, seasonCloses, version } = about;
        const put = await http.PUT("/api/v1/pools/{id}/about", {
          params: { path: { id: about.id } },
          body: {
            street,
            which,
            town,
            gallons,
            surface,
            inGround,
            accessNote,
            weekday,
            technicianId,
            minutes,
            lapOrder,
            lat,
            lon,
            seasonOpens,
            seasonCloses,
            version,
            customerId: kept.data.id,
          },
        });
        if (put.error) return { error: put.error };
      }
      return kept;
    },
    changed: "pool",
    onSaved: onDone,
  });
  const { form, set, says } = record;
  const known = api.useQuery(
    "get",
    "/api/v1/customers",
    { params: { query: { q: form.name } } },
    { enabled: form.version === 0 && form.name.trim().length > 1 },
  );
  const erase = async () => {
    const { error } = await http.POST("/api/v1/customers/{id}/erased", { params: { path: { id: form.id } } });
    if (error) return setProblem(error as Problem);
    changed("pool");
    onDone();
  };
  return (
    <form className="part-form" onSubmit={record.submit}>
      {(["name", "phone", "email", "note"] as const).map((f) => (
        <WordsField
          key={f}
          id={`customer-${f}`}
          label={t(`customer.fields.${f}`)}
          value={form[f]}
          say={says[f]}
          onChange={(text) => set({ [f]: text })}
        />
      ))}
      <ChoiceField
        id="customer-lang"
        label={t("customer.lang")}
        value={form.lang ?? ""}
        options={[
          { value: "", label: t("customer.anyLang") },
          ...languages.map((l) => ({ value: l, label: t(`languages.${l}`) })),
        ]}
        onChange={(lang) => set({ lang })}
      />
      {form.version === 0 && (known.data ?? []).length > 0 && (
        <p className="part-acts">
          {t("customer.known")}
          {known.data?.slice(0, 5).map((c) => (
            <Button
              key={c.id}
              type="link"
              onClick={() => {
                setStands(c);
                set(c);
              }}
            >
              {[c.name, c.phone].filter(Boolean).join(", ")}
            </Button>
          ))}
        </p>
      )}
      {problem && (
        <p className="state-line" role="alert">
          <StateMark mark="act" />
          {problem.detail ?? t("state.offline")}
        </p>
      )}
      <RecordEnd record={record} id="customer-save" small theirs={(r) => t("record.nowSays", { text: r.name })}>
        <Button type="link" size="small" onClick={onDone}>
          {t("log.back")}
        </Button>
        {form.version > 0 && !sure && (
          <Button type="link" size="small" id="customer-erase" onClick={() => setSure(true)}>
            {t("customer.erase")}
          </Button>
        )}
      </RecordEnd>
      {sure && (
        <p>
          {t("customer.eraseWhat")}{" "}
          <Button size="small" id="customer-erase-sure" onClick={erase}>
            {t("customer.erase")}
          </Button>
        </p>
      )}
    </form>
  );
}
