import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { v7 as uuid } from "uuid";
import { api, fieldSays, http, type PoolAbout, type Problem } from "../../api/client";
import { languages } from "../../i18n";
import { ChoiceField, FigureField } from "../../parts/figure-field";
import { StateMark } from "../../parts/state-mark";

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
        <p className="customer">
          <b>{who.erased ? t("customer.erased") : who.name}</b>
          {who.phone && <a href={`tel:${who.phone.replace(/[^\d+]/g, "")}`}>{who.phone}</a>}
          {who.email && <a href={`mailto:${who.email}`}>{who.email}</a>}
          {who.note && <span>{who.note}</span>}
        </p>
      )}
      {about.mayEdit && !open && (
        <button type="button" className="btn" id="customer-change" onClick={() => setOpen(true)}>
          {t(who && !who.erased ? "record.change" : "customer.name")}
        </button>
      )}
      {open && <Form about={about} onDone={() => setOpen(false)} />}
    </section>
  );
}

const nobody = (): Customer => ({ id: uuid(), name: "", phone: "", email: "", note: "", version: 0, erased: false });

function Form({ about, onDone }: { about: PoolAbout; onDone: () => void }) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [form, setForm] = useState<Customer>(() =>
    about.customer && !about.customer.erased ? about.customer : nobody(),
  );
  const [problem, setProblem] = useState<Problem | null>(null);
  const [sure, setSure] = useState(false);
  const known = api.useQuery(
    "get",
    "/api/v1/customers",
    { params: { query: { q: form.name } } },
    { enabled: form.version === 0 && form.name.trim().length > 1 },
  );
  const says = fieldSays(problem);
  const theirs = problem?.status === 409 ? (problem.errors?.[0]?.value as Customer | undefined) : undefined;
  const keep = async () => {
    const kept = await http.PUT("/api/v1/customers", {
      body: { ...form, version: theirs?.version ?? form.version },
    });
    if (kept.error) return setProblem(kept.error as Problem);
    if (about.customerId !== form.id) {
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
          customerId: form.id,
        },
      });
      if (put.error) return setProblem(put.error as Problem);
    }
    queries.invalidateQueries();
    onDone();
  };
  const erase = async () => {
    const { error } = await http.POST("/api/v1/customers/{id}/erased", { params: { path: { id: form.id } } });
    if (error) return setProblem(error as Problem);
    queries.invalidateQueries();
    onDone();
  };
  return (
    <form
      className="part-form"
      onSubmit={(e) => {
        e.preventDefault();
        keep();
      }}
    >
      {(["name", "phone", "email", "note"] as const).map((f) => (
        <FigureField
          key={f}
          id={`customer-${f}`}
          words
          label={t(`customer.fields.${f}`)}
          value={form[f]}
          say={says[f]}
          onChange={(text) => setForm({ ...form, [f]: text })}
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
        onChange={(lang) => setForm({ ...form, lang })}
      />
      {form.version === 0 && (known.data ?? []).length > 0 && (
        <p className="part-acts">
          {t("customer.known")}
          {known.data?.slice(0, 5).map((c) => (
            <button key={c.id} type="button" className="as-table" onClick={() => setForm(c)}>
              {[c.name, c.phone].filter(Boolean).join(", ")}
            </button>
          ))}
        </p>
      )}
      {problem && problem.status !== 422 && (
        <p className="state-line" role="alert">
          <StateMark mark="act" />
          {problem.detail ?? t("state.offline")} {theirs && t("record.nowSays", { text: theirs.name })}
        </p>
      )}
      <span className="part-acts">
        <button type="submit" className="btn small" id="customer-save">
          {t(theirs ? "record.keepMine" : "record.save")}
        </button>
        <button type="button" className="btn plain small" onClick={onDone}>
          {t("log.back")}
        </button>
        {form.version > 0 && !sure && (
          <button type="button" className="btn plain small" id="customer-erase" onClick={() => setSure(true)}>
            {t("customer.erase")}
          </button>
        )}
      </span>
      {sure && (
        <p>
          {t("customer.eraseWhat")}{" "}
          <button type="button" className="btn small" id="customer-erase-sure" onClick={erase}>
            {t("customer.erase")}
          </button>
        </p>
      )}
    </form>
  );
}
