import { useEffect, useRef } from "react";
import { useTranslation } from "react-i18next";
import type { Bench, Verdict } from "../../api/client";
import { Choice as OneOf } from "../../parts/choice";
import { chance } from "../../parts/format";
import { Tool } from "../../parts/glyphs";
import { useRunsComing } from "../../parts/runs-and-work";
import type { Draft, WorkKind } from "./draft";
import { fieldsOf } from "./readings";

const kinds: WorkKind[] = ["cleaned", "basket", "skimmer", "lid-seal", "handle", "level", "part", "other"];

interface Props {
  bench: Bench;
  verdict: Verdict | undefined;
  draft: Draft;
  says: Record<string, string>;
  change: (part: Partial<Draft>) => void;
  onLog: () => void;
}

/** Closing the stop: what was done, what it was, what the next visit should know. */
export function LogSheet({ bench, verdict, draft, says, change, onLog }: Props) {
  const { t } = useTranslation();
  const coming = useRunsComing(bench.pool.id, bench.stopId);
  const ref = useRef<HTMLDialogElement>(null);
  useEffect(() => {
    const d = ref.current;
    if (draft.closing && !d?.open) d?.showModal();
    if (!draft.closing && d?.open) d.close();
  }, [draft.closing]);
  const toggle = (k: WorkKind) =>
    change({ works: draft.works.includes(k) ? draft.works.filter((w) => w !== k) : [...draft.works, k] });
  const cleaned = draft.works.includes("cleaned");
  const leading = verdict?.suspects.filter((s) => s.id !== "healthy" && s.p >= 0.03).slice(0, 3) ?? [];
  const listed = new Set(leading.map((s) => s.id));
  return (
    <dialog ref={ref} className="log-sheet" aria-labelledby="log-head" onClose={() => change({ closing: false })}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          onLog();
        }}
      >
        <header className="log-head">
          <h2 id="log-head">{t(draft.corrects ? "log.correct" : "log.title", { street: bench.pool.street })}</h2>
          <button type="button" className="btn plain" onClick={() => change({ closing: false })}>
            {t("log.back")}
          </button>
        </header>
        <fieldset>
          <legend>{t("log.done")}</legend>
          <div className="chips">
            {kinds.map((k) => (
              <button
                key={k}
                type="button"
                className={`chip ${draft.works.includes(k) ? "yes" : "no"}`}
                aria-pressed={draft.works.includes(k)}
                onClick={() => toggle(k)}
              >
                <Tool name={draft.works.includes(k) ? "yes" : "none"} size={22} className="ans" />
                <span className="c-name">{k === "cleaned" ? bench.pad.cleaningName : t(`work.${k}`)}</span>
                <span className="c-word">{t(draft.works.includes(k) ? "log.wasDone" : "log.notDone")}</span>
              </button>
            ))}
          </div>
          {(draft.works.includes("part") || draft.works.includes("other")) && (
            <label className="line">
              {t("log.workNote")}
              <input value={draft.workNote} maxLength={500} onChange={(e) => change({ workNote: e.target.value })} />
            </label>
          )}
        </fieldset>
        {cleaned && (
          <fieldset>
            <legend>{t("log.after")}</legend>
            <p className="quiet">{t("log.afterHint", { rpm: draft.readings[0]?.speed || bench.pad.usualRpm })}</p>
            <div className="after">
              {fieldsOf(bench.pad).map((f) => (
                <label key={f} className="line">
                  {t(`meter.${f}`)}
                  <input
                    inputMode="decimal"
                    autoComplete="off"
                    id={`after-${f}`}
                    value={draft.after[f] ?? ""}
                    aria-invalid={Boolean(says[`after.${f}`])}
                    onChange={(e) => change({ after: { ...draft.after, [f]: e.target.value } })}
                  />
                  {says[`after.${f}`] && (
                    <span className="field-says" role="alert">
                      {says[`after.${f}`]}
                    </span>
                  )}
                </label>
              ))}
            </div>
          </fieldset>
        )}
        <fieldset>
          <legend>{t("log.was")}</legend>
          <div className="choices">
            <Choice value="" label={t("log.noQuestion")} draft={draft} change={change} />
            {leading.map((s) => (
              <Choice key={s.id} value={s.id} label={`${s.name} (${chance(s.p)} %)`} draft={draft} change={change} />
            ))}
            {leading[0] && (
              <Choice
                value={`open:${leading[0].id}`}
                label={t("log.leaveOpen", { name: leading[0].name })}
                draft={draft}
                change={change}
              />
            )}
            <Choice value="nothing" label={t("log.nothing")} draft={draft} change={change} />
          </div>
          <div className="line">
            <label htmlFor="log-another">{t("log.another")}</label>
            <OneOf
              id="log-another"
              value={listed.has(draft.confirmed) ? "" : draft.confirmed.replace(/^(open:.*|nothing)$/, "")}
              options={[
                { value: "", label: "–" },
                ...bench.faults.filter((f) => !listed.has(f.id)).map((f) => ({ value: f.id, label: f.name })),
              ]}
              onChange={(confirmed) => change({ confirmed })}
            />
          </div>
          {draft.confirmed !== "" && (
            <label className="line">
              {t("log.how")}
              <input
                value={draft.confirmedHow}
                maxLength={500}
                onChange={(e) => change({ confirmedHow: e.target.value })}
              />
            </label>
          )}
        </fieldset>
        <fieldset>
          <legend>{t("log.rest")}</legend>
          <label className="tick-line">
            <input
              type="checkbox"
              checked={draft.chemicals}
              onChange={(e) => change({ chemicals: e.target.checked })}
            />
            {t("log.chemicals")}
          </label>
          <div className="after">
            {(["prime", ...(bench.pad.filterKind === "sand" ? [] : ["drain"])] as ("prime" | "drain")[]).map((k) => (
              <label key={k} className="line">
                {t(`log.${k}`)}
                <input
                  inputMode="decimal"
                  autoComplete="off"
                  id={`timed-${k}`}
                  value={draft[k] ?? ""}
                  aria-invalid={Boolean(says[`${k}Seconds`])}
                  onChange={(e) => change({ [k]: e.target.value })}
                />
              </label>
            ))}
          </div>
          <label className="line">
            {t("log.note")}
            <textarea
              id="log-note"
              rows={3}
              maxLength={4000}
              value={draft.note}
              onChange={(e) => change({ note: e.target.value })}
            />
          </label>
        </fieldset>
        {Object.entries(says)
          .filter(([k]) => !k.startsWith("after."))
          .map(([k, v]) => (
            <p key={k} className="field-says" role="alert">
              {v}
            </p>
          ))}
        <button type="submit" className="btn main" id="log-save" disabled={coming} aria-busy={coming}>
          {t(coming ? "log.runsComing" : "log.save")}
        </button>
      </form>
    </dialog>
  );
}

function Choice({
  value,
  label,
  draft,
  change,
}: {
  value: string;
  label: string;
  draft: Draft;
  change: (p: Partial<Draft>) => void;
}) {
  return (
    <label className="tick-line">
      <input
        type="radio"
        name="confirmed"
        value={value}
        checked={draft.confirmed === value}
        onChange={() => change({ confirmed: value })}
      />
      {label}
    </label>
  );
}
