import { Button, Select } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, fieldSays, http, type PracticeAsk, type PracticePerson, type Problem } from "../../api/client";
import { useChanged } from "../../api/use-changed";
import { Page } from "../../frame/page";
import { Choice } from "../../parts/choice";
import { Drop } from "../../parts/drop";
import { Fold } from "../../parts/fold";
import { day } from "../../parts/format";
import { GoButton } from "../../parts/go-button";
import { Loading, Trouble } from "../../parts/quiet-states";
import { StateMark } from "../../parts/state-mark";
import { DrawCase } from "./draw-case";
import { Pairs } from "./pairs";
import styles from "./practice.module.css";
import { useCases } from "./use-attempt";

type Which = Pick<PracticeAsk, "id" | "draw" | "case">;

/** What the company's people tell apart, and the cases that the desk asks for. */
export default function PeopleView() {
  const { t } = useTranslation();
  const people = api.useQuery("get", "/api/v1/practice/people");
  return (
    <Page
      title={t("practice.people")}
      acts={
        <>
          <GoButton to="/practice">{t("practice.back")}</GoButton>
          <Button onClick={() => print()}>{t("practice.print")}</Button>
        </>
      }
    >
      <div className={`catalogue ${styles.home}`}>
        <p className="quiet">{t("practice.peopleSays")}</p>
        {people.isError && !people.data && <Trouble error={people.error} onRetry={() => people.refetch()} />}
        {people.isPending && <Loading />}
        {people.data && <AskFor people={people.data} />}
        {people.data?.map((p) => (
          <Person key={p.id} person={p} />
        ))}
      </div>
    </Page>
  );
}

function Person({ person: p }: { person: PracticePerson }) {
  const { t } = useTranslation();
  const changed = useChanged();
  return (
    <section className={styles.person} data-person={p.id}>
      <h2>{p.name}</h2>
      {p.tries === 0 && p.tasks.length === 0 && <p className="quiet">{t("practice.noneYet")}</p>}
      {p.tries > 0 && <p>{t("practice.sumOf", { count: p.tries, solved: p.solved })}</p>}
      {p.pairs.length > 0 && <Pairs pairs={p.pairs} />}
      <ul className={styles.tasks}>
        {p.tasks.map((task) => (
          <li key={task.id} className="state-line">
            <StateMark mark={task.done ? "fine" : "open"} />
            <span>
              {task.title} · {t("practice.asked", { on: day(task.madeAt) })}
            </span>
            {!task.done && (
              <Button
                size="small"
                onClick={async () => {
                  await http.DELETE("/api/v1/practice/tasks/{id}", { params: { path: { id: task.id } } });
                  await changed("practice");
                }}
              >
                {t("practice.takeBack")}
              </Button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Whom to ask for which case: a written one, a drawn one, or one from a file. */
function AskFor({ people }: { people: PracticePerson[] }) {
  const { t } = useTranslation();
  const changed = useChanged();
  const cases = useCases();
  const [who, setWho] = useState<string[]>([]);
  const [id, setId] = useState("");
  const [says, setSays] = useState<string[]>([]);
  const [asked, setAsked] = useState(false);
  const ask = async (which: Which) => {
    const { error } = await http.POST("/api/v1/practice/tasks", { body: { people: who, which } });
    const refused = error as Problem | undefined;
    setSays(refused ? refusals(refused) : []);
    setAsked(!refused);
    if (!refused) await changed("practice");
  };
  const read = async (file: File) => {
    try {
      await ask({ case: JSON.parse(await file.text()) });
    } catch {
      setSays([t("practice.notACase")]);
    }
  };
  const written = id || cases.data?.[0]?.id || "";
  return (
    <Fold head={<b>{t("practice.askFor")}</b>} id="practice-ask">
      <div className={styles.ask}>
        <label htmlFor="ask-who">{t("practice.askWho")}</label>
        <Select
          id="ask-who"
          mode="multiple"
          value={who}
          options={people.map((p) => ({ value: p.id, label: p.name }))}
          optionFilterProp="label"
          onChange={setWho}
        />
        <label htmlFor="ask-case">{t("practice.askWritten")}</label>
        <div className={styles.draw}>
          <Choice
            id="ask-case"
            value={written}
            options={(cases.data ?? []).map((c) => ({ value: c.id ?? "", label: c.title }))}
            onChange={setId}
          />
          <Button id="ask-written" disabled={who.length === 0 || !written} onClick={() => ask({ id: written })}>
            {t("practice.askGo")}
          </Button>
        </div>
        <b>{t("practice.askDrawn")}</b>
        <DrawCase
          label={t("practice.askGo")}
          onDraw={(draw) => (who.length ? ask({ draw }) : setSays([t("practice.askNobody")]))}
        />
        <Drop label={t("practice.askFile")} accept="application/json,.json" busy={who.length === 0} onFile={read} />
        {asked && (
          <p className="state-line" role="status">
            <StateMark mark="fine" />
            {t("practice.askedFor")}
          </p>
        )}
        {says.map((s) => (
          <p key={s} className="field-says" role="alert">
            {s}
          </p>
        ))}
      </div>
    </Fold>
  );
}

/** Every sentence of a refusal, each with its field. */
function refusals(p: Problem): string[] {
  const fields = Object.entries(fieldSays(p)).map(([field, says]) => `${field}: ${says}`);
  return fields.length ? fields : [p.detail ?? ""];
}
