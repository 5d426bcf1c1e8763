import { Button, Radio } from "antd";
import { useCallback, useState } from "react";
import { useTranslation } from "react-i18next";
import { useNavigate } from "react-router";
import { api, fieldSays, type PadDocument, type PadOnRecord, type Problem } from "../../api/client";
import { useChanged } from "../../api/use-changed";
import { useMe } from "../../frame/me";
import { PadPage } from "../../frame/pad-page";
import { Page } from "../../frame/page";
import { PoolPages } from "../../frame/pool-pages";
import { useKept } from "../../kept/use-kept";
import { ChoiceField } from "../../parts/choice-field";
import { weekdays } from "../../parts/format";
import { Trouble } from "../../parts/quiet-states";
import { figureSays, readFigure } from "../../parts/read-figure";
import { StateMark } from "../../parts/state-mark";
import { useSettled } from "../../parts/use-settled";
import { VolumeField } from "../../parts/volume-field";
import { WordsField } from "../../parts/words-field";
import { FirstPad } from "./first-pad";
import { LeastForm, useSketch } from "./least-form";
import { finish, unfinished, useNewPad } from "./new-pads";
import styles from "./pad.module.css";
import { freshDraft, type PadDraft } from "./pad-draft";
import { PadFields } from "./pad-fields";
import { Preview } from "./preview";
import { Revisions } from "./revisions";
import { StartFrom } from "./start-from";

/** Describe a new pool's pad. */
export function NewPadView() {
  return (
    <Page>
      <NewPads />
    </Page>
  );
}

/** Look over and revise a pool's pad. */
export function PadView() {
  return <PadPage describes of={(pad) => <KnownPad key={`${pad.poolId}-${pad.revision}`} pad={pad} />} />;
}

/** What the server says of the document as it stands, and what this device can't read as a figure. */
function useJudged(doc: PadDocument | null, gallons: string, texts: Record<string, string>) {
  const settled = useSettled(doc);
  const answer = api.useQuery(
    "post",
    "/api/v1/pads/preview",
    { body: { gallons: readFigure(gallons, "gal") || 0, document: settled as PadDocument } },
    { enabled: settled !== null, staleTime: 60_000, placeholderData: (before: unknown) => before as never },
  );
  const problem = answer.isError ? (answer.error as Problem) : null;
  const says: Record<string, string> = {};
  for (const [at, say] of Object.entries(fieldSays(problem))) says[at.replace(/^document\.?/, "")] = say;
  for (const [path, text] of Object.entries(texts)) {
    const say = figureSays(text);
    if (say) says[path] = say;
  }
  return {
    preview: answer.data,
    stale: answer.isPlaceholderData || answer.isError || settled !== doc,
    says,
    trouble: problem && problem.status !== 422 ? problem : null,
    again: () => answer.refetch(),
  };
}

/** Each tab has a draft of its own; the others that are kept on this device can be gone on with. */
function NewPads() {
  const { id, take } = useNewPad();
  return <NewPad key={id} id={id} onOther={take} />;
}

function NewPad({ id, onOther }: { id: string; onOther: (id: string) => void }) {
  const { t } = useTranslation();
  const changed = useChanged();
  const go = useNavigate();
  const fresh = useCallback(() => ({ ...freshDraft(), poolId: id }), [id]);
  const { id: me, role } = useMe();
  const desk = role !== "technician";
  const people = api.useQuery("get", "/api/v1/technicians", {}, { enabled: desk });
  const { value: draft, change, clear, kept } = useKept<PadDraft>("new-pad", id, fresh);
  const [others] = useState(() => unfinished(me, id));
  const sketched = useSketch(draft.least);
  const doc = draft.doc ?? sketched.doc;
  // A pad that somebody began to describe is not left behind.
  const begun = Boolean(draft.doc || draft.least.pump || draft.least.filter || draft.least.lengthFt);
  const judged = useJudged(doc, draft.gallons, draft.texts);
  const save = api.useMutation("post", "/api/v1/pools");
  const refused = fieldSays(save.error as Problem | null);
  const [local, setLocal] = useState<Record<string, string>>({});
  const put = () => {
    const gallons = readFigure(draft.gallons, "gal");
    const missing: Record<string, string> = {};
    if (!draft.street.trim()) missing.street = t("pad.needStreet");
    if (Number.isNaN(gallons))
      missing.gallons = draft.gallons ? figureSays(draft.gallons, "gal") : t("pad.needGallons");
    setLocal(missing);
    if (Object.keys(missing).length || Object.keys(judged.says).length) return;
    save.mutate(
      {
        body: {
          id: draft.poolId,
          street: draft.street,
          which: draft.which,
          town: draft.town,
          gallons,
          surface: draft.surface,
          accessNote: draft.accessNote,
          aboveGround: draft.ground === "above" || undefined,
          customer: draft.customer.trim()
            ? {
                id: draft.customerId,
                name: draft.customer,
                phone: draft.phone,
                email: "",
                note: "",
                version: 0,
                erased: false,
              }
            : undefined,
          weekday: draft.weekday ? Number(draft.weekday) : undefined,
          technicianId: draft.technician || undefined,
          document: doc ? { ...doc, poolGallons: gallons } : undefined,
        },
      },
      {
        onSuccess: (made) => {
          clear();
          finish(me, id);
          changed("pool");
          // What a described pad lacks next is its clean line; one to be described later waits at its record.
          go(doc ? `/pools/${made.pool.id}/clean-line` : `/pools/${made.pool.id}`);
        },
      },
    );
  };
  const say = (field: string) => local[field] ?? refused[field];
  return (
    <>
      <header className="top">
        <h1>{t("pad.newTitle")}</h1>
        <span className="quiet">{t(kept ? "bench.kept" : "bench.notKept")}</span>
      </header>
      {others.length > 0 && (
        <section className={styles["pad-drafts"]} aria-label={t("pad.draftsTitle")}>
          {others.map((o) => (
            <Button key={o.id} onClick={() => onOther(o.id)}>
              {o.street ? t("pad.draftGoOn", { street: o.street }) : t("pad.draftGoOnBare")}
            </Button>
          ))}
        </section>
      )}
      <div className={styles["pad-desk"]}>
        <form className={styles["pad-form"]} onSubmit={(e) => e.preventDefault()}>
          <fieldset>
            <legend>{t("pad.pool")}</legend>
            <WordsField
              id="new-street"
              first
              label={t("pad.street")}
              value={draft.street}
              say={say("street")}
              onChange={(street) => change({ street })}
            />
            {(draft.which || say("which")) && (
              <WordsField
                id="new-which"
                label={t("pad.which")}
                hint={t("pad.whichHint")}
                value={draft.which}
                say={say("which")}
                onChange={(which) => change({ which })}
              />
            )}
            <WordsField
              id="new-town"
              label={t("pad.town")}
              value={draft.town}
              say={say("town")}
              onChange={(town) => change({ town })}
            />
            <VolumeField
              id="new-gallons"
              value={draft.gallons}
              say={say("gallons")}
              onChange={(gallons) => change({ gallons })}
            />
            <ChoiceField
              id="new-ground"
              label={t("about.ground")}
              value={draft.ground}
              options={(["in", "above"] as const).map((g) => ({ value: g, label: t(`about.grounds.${g}`) }))}
              onChange={(ground) => change({ ground })}
            />
            <WordsField
              id="new-customer"
              label={t("pad.customer")}
              value={draft.customer}
              say={say("customer.name")}
              hint={t("pad.customerHint")}
              onChange={(customer) => change({ customer })}
            />
            <WordsField
              id="new-phone"
              label={t("customer.fields.phone")}
              value={draft.phone}
              onChange={(phone) => change({ phone })}
            />
            {desk && (
              <>
                <ChoiceField
                  id="new-technician"
                  label={t("pools.technician")}
                  value={draft.technician ?? ""}
                  say={say("technicianId")}
                  options={[
                    { value: "", label: t("pad.nobodyYet") },
                    ...(people.data ?? []).map((x) => ({ value: x.id, label: x.name })),
                  ]}
                  onChange={(technician) => change({ technician })}
                />
              </>
            )}
            <ChoiceField
              id="new-weekday"
              label={t("pools.weekday")}
              value={draft.weekday ?? ""}
              options={[
                { value: "", label: t("pad.todaysDay") },
                ...weekdays().map((name, i) => ({ value: String(i), label: name })),
              ]}
              onChange={(weekday) => change({ weekday })}
            />
            <WordsField
              id="new-access"
              label={t("record.access")}
              value={draft.accessNote}
              say={say("accessNote")}
              onChange={(accessNote) => change({ accessNote })}
            />
          </fieldset>
          {draft.doc ? (
            <>
              <Button onClick={() => change({ doc: null, texts: {} })}>{t("pad.backToLeast")}</Button>
              <PadFields
                doc={draft.doc}
                texts={draft.texts}
                says={judged.says}
                onChange={(doc, texts) => change({ doc, texts })}
              />
            </>
          ) : (
            <>
              <LeastForm least={draft.least} says={sketched.says} onChange={(least) => change({ least })} />
              <Button id="refine" disabled={!sketched.doc} onClick={() => change({ doc: sketched.doc })}>
                {t("pad.refine")}
              </Button>
              <StartFrom onDocument={(from) => change({ doc: from, texts: {} })} />
            </>
          )}
          {save.isError && (save.error as Problem).status !== 422 && <Trouble error={save.error} onRetry={put} />}
          <Button type="primary" size="large" id="keep-pool" disabled={save.isPending || (begun && !doc)} onClick={put}>
            {t(begun ? "pad.keepPool" : "pad.keepWithout")}
          </Button>
          {Object.keys(judged.says).length > 0 && (
            <p className="state-line">
              <StateMark mark="act" />
              {t("pad.someWrong", { count: Object.keys(judged.says).length })}
            </p>
          )}
        </form>
        <Preview doc={doc} judged={judged} />
      </div>
    </>
  );
}

function KnownPad({ pad }: { pad: PadOnRecord }) {
  const { t } = useTranslation();
  const changed = useChanged();
  const { value: kept, change, clear } = useKept<PadDraft>("pad", pad.poolId, freshDraft);
  // Only what was changed here is a draft; one of an older revision is shown beside
  // what stands now, never put over it.
  const touched = kept.doc !== null;
  const stale = touched && kept.basedOn !== pad.revision;
  const doc = kept.doc ?? pad.document;
  const judged = useJudged(doc, String(pad.gallons), kept.texts);
  const save = api.useMutation("put", "/api/v1/pools/{id}/pad");
  const problem = save.error as Problem | null;
  if (pad.document.presumed && !touched) return <FirstPad pad={pad} onRefine={change} />;
  const put = () => {
    if (Object.keys(judged.says).length) return;
    save.mutate(
      {
        params: { path: { id: pad.poolId } },
        body: { basedOn: kept.basedOn, reason: kept.reason, note: kept.note, document: doc },
      },
      {
        onSuccess: () => {
          clear();
          changed("pool");
        },
      },
    );
  };
  return (
    <>
      <header className="top">
        <h1>{pad.street}</h1>
        <span className="quiet">{t("pad.revision", { n: pad.revision })}</span>
      </header>
      <PoolPages id={pad.poolId} />
      {(stale || problem?.status === 409) && (
        <p className="danger" role="alert">
          <StateMark mark="act" size={22} />
          <span>{t("pad.changedMeanwhile", { n: pad.revision })}</span>
          <Button onClick={() => change({ basedOn: pad.revision })}>{t("record.keepMine")}</Button>
          <Button
            onClick={() => {
              clear();
              changed("pool");
            }}
          >
            {t("record.keepTheirs")}
          </Button>
        </p>
      )}
      <div className={styles["pad-desk"]}>
        <form className={styles["pad-form"]} onSubmit={(e) => e.preventDefault()}>
          <PadFields
            doc={doc}
            texts={kept.texts}
            says={judged.says}
            onChange={(d, texts) => change({ doc: d, texts, basedOn: touched ? kept.basedOn : pad.revision })}
          />
          <fieldset className="keep-pad">
            <legend>{t("pad.why")}</legend>
            <Radio.Group
              vertical
              value={kept.reason}
              options={(["description", "work"] as const).map((r) => ({ value: r, label: t(`pad.reason.${r}`) }))}
              onChange={(e) => change({ reason: e.target.value })}
            />
            <WordsField label={t("log.note")} value={kept.note} onChange={(note) => change({ note })} />
            {problem && problem.status !== 422 && problem.status !== 409 && <Trouble error={problem} onRetry={put} />}
            <Button type="primary" size="large" id="keep-pad" disabled={!touched || save.isPending} onClick={put}>
              {t("pad.keep")}
            </Button>
            {touched && (
              <Button type="link" onClick={clear}>
                {t("pad.undo")}
              </Button>
            )}
          </fieldset>
        </form>
        <div>
          <Preview doc={doc} judged={judged} />
          <Revisions pad={pad} />
        </div>
      </div>
    </>
  );
}
