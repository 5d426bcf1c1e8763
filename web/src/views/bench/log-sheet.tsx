import { Button, Checkbox, Drawer, Radio } from "antd";
import { useTranslation } from "react-i18next";
import type { Bench, Verdict } from "../../api/client";
import { Chip, Chips } from "../../parts/chip";
import { Choice } from "../../parts/choice";
import { now } from "../../parts/clock";
import { FieldLine } from "../../parts/field-line";
import { FigureField } from "../../parts/figure-field";
import { chance } from "../../parts/format";
import { Tool } from "../../parts/glyphs";
import { OpenStates } from "../../parts/open-states";
import { useRunsComing } from "../../parts/runs-and-work";
import { useWide } from "../../parts/use-wide";
import type { Draft, WorkKind } from "../../parts/visit-draft";
import { WordsField } from "../../parts/words-field";
import styles from "./log-sheet.module.css";
import { fieldsOf, units } from "./readings";

const kinds: WorkKind[] = ["cleaned", "basket", "skimmer", "lid-seal", "handle", "level", "part", "other"];

interface Props {
  open: boolean;
  bench: Bench;
  verdict: Verdict | undefined;
  draft: Draft;
  says: Record<string, string>;
  change: (part: Partial<Draft>) => void;
  onLog: () => void;
}

/** Closing the stop: what was done, what it was, what the next visit should know. */
export default function LogSheet(props: Props) {
  const { open, bench, draft, change, onLog } = props;
  const { t } = useTranslation();
  const wide = useWide();
  const coming = useRunsComing(bench.pool.id, bench.stopId);
  return (
    <Drawer
      open={open}
      onClose={() => change({ closing: false })}
      placement={wide ? "right" : "bottom"}
      size={wide ? 620 : "100dvh"}
      title={t(draft.corrects ? "log.correct" : "log.title", { street: bench.pool.street })}
      closeIcon={<Tool name="no" />}
      footer={
        <Button
          type="primary"
          size="large"
          block
          id="log-save"
          htmlType="submit"
          form="log-form"
          disabled={coming}
          aria-busy={coming}
        >
          {t(coming ? "log.runsComing" : "log.save")}
        </Button>
      }
    >
      <form
        id="log-form"
        className={styles.sheet}
        onSubmit={(e) => {
          e.preventDefault();
          onLog();
        }}
      >
        <LeftOpen {...props} />
        <Done {...props} />
        <Was {...props} />
        <Rest {...props} />
      </form>
    </Drawer>
  );
}

/** What is not back to normal: it is put back, or left for a reason. */
function LeftOpen({ verdict, draft, says, change }: Props) {
  const { t } = useTranslation();
  if (!verdict?.stop.open.length) return null;
  return (
    <fieldset id="left-open">
      <legend>{t("openStates.title")}</legend>
      <OpenStates stop={verdict.stop} />
      <WordsField
        id="left-reason"
        label={t("openStates.reason")}
        value={draft.leftReason ?? ""}
        max={500}
        say={says.leftReason}
        onChange={(leftReason) => change({ leftReason })}
      />
    </fieldset>
  );
}

/** What was done at the stop; what runs did is ticked already. */
function Done({ bench, draft, says, change }: Props) {
  const { t } = useTranslation();
  const toggle = (k: WorkKind) =>
    change({
      works: draft.works.includes(k) ? draft.works.filter((w) => w !== k) : [...draft.works, k],
      ...(k === "cleaned" && { cleanedAt: draft.works.includes(k) ? undefined : now().toISOString() }),
    });
  return (
    <>
      <fieldset>
        <legend>{t("log.done")}</legend>
        <Chips>
          {kinds.map((k) => {
            const did = draft.works.includes(k);
            return (
              <li key={k}>
                <Chip
                  answer={did ? "yes" : "none"}
                  name={k === "cleaned" ? bench.pad.cleaningName : t(`work.${k}`)}
                  word={t(did ? "log.wasDone" : "log.notDone")}
                  data-work={k}
                  aria-pressed={did}
                  onClick={() => toggle(k)}
                />
              </li>
            );
          })}
        </Chips>
        {(draft.works.includes("part") || draft.works.includes("other")) && (
          <WordsField
            label={t("log.workNote")}
            value={draft.workNote}
            max={500}
            onChange={(workNote) => change({ workNote })}
          />
        )}
      </fieldset>
      {draft.works.includes("cleaned") && (
        <fieldset>
          <legend>{t("log.after")}</legend>
          <p className="quiet">{t("log.afterHint", { rpm: draft.readings[0]?.speed || bench.pad.usualRpm })}</p>
          <div className={styles.figures}>
            {fieldsOf(bench.pad).map((f) => (
              <FigureField
                key={f}
                id={`after-${f}`}
                label={t(`meter.${f}`)}
                unit={units[f]}
                value={draft.after[f] ?? ""}
                say={says[`after.${f}`]}
                onChange={(v) => change({ after: { ...draft.after, [f]: v } })}
              />
            ))}
          </div>
        </fieldset>
      )}
    </>
  );
}

/** What the trouble was, if any: the leading suspects first, any other by its name. */
function Was({ bench, verdict, draft, change }: Props) {
  const { t } = useTranslation();
  const leading = verdict?.suspects.filter((s) => s.id !== "healthy" && s.p >= 0.03).slice(0, 3) ?? [];
  const listed = new Set(leading.map((s) => s.id));
  const options = [
    { value: "", label: t("log.noQuestion") },
    ...leading.map((s) => ({ value: s.id, label: `${s.name} (${chance(s.p)} %)` })),
    ...leading.slice(0, 1).map((s) => ({ value: `open:${s.id}`, label: t("log.leaveOpen", { name: s.name }) })),
    { value: "nothing", label: t("log.nothing") },
  ];
  return (
    <fieldset>
      <legend>{t("log.was")}</legend>
      <Radio.Group
        vertical
        className={styles.choices}
        name="confirmed"
        value={draft.confirmed}
        options={options}
        onChange={(e) => change({ confirmed: e.target.value })}
      />
      <FieldLine id="log-another" label={t("log.another")}>
        <Choice
          id="log-another"
          value={listed.has(draft.confirmed) ? "" : draft.confirmed.replace(/^(open:.*|nothing)$/, "")}
          options={[
            { value: "", label: "–" },
            ...bench.faults.filter((f) => !listed.has(f.id)).map((f) => ({ value: f.id, label: f.name })),
          ]}
          onChange={(confirmed) => change({ confirmed })}
        />
      </FieldLine>
      {draft.confirmed !== "" && (
        <WordsField
          label={t("log.how")}
          value={draft.confirmedHow}
          max={500}
          onChange={(confirmedHow) => change({ confirmedHow })}
        />
      )}
    </fieldset>
  );
}

/** What else the record should know, and what was refused. */
function Rest({ bench, draft, says, change }: Props) {
  const { t } = useTranslation();
  const timed: ("prime" | "drain")[] = bench.pad.filterKind === "sand" ? ["prime"] : ["prime", "drain"];
  return (
    <fieldset>
      <legend>{t("log.rest")}</legend>
      <Checkbox
        className="tick-line"
        checked={draft.chemicals}
        onChange={(e) => change({ chemicals: e.target.checked })}
      >
        {t("log.chemicals")}
      </Checkbox>
      <div className={styles.figures}>
        {timed.map((k) => (
          <FigureField
            key={k}
            id={`timed-${k}`}
            label={t(`log.${k}`)}
            value={draft[k] ?? ""}
            say={says[`${k}Seconds`]}
            onChange={(v) => change({ [k]: v })}
          />
        ))}
      </div>
      <WordsField
        id="log-note"
        label={t("log.note")}
        lines={3}
        max={4000}
        value={draft.note}
        onChange={(note) => change({ note })}
      />
      {Object.entries(says)
        .filter(([k]) => !k.startsWith("after.") && !k.endsWith("Seconds") && k !== "leftReason")
        .map(([k, v]) => (
          <p key={k} className="field-says" role="alert">
            {v}
          </p>
        ))}
    </fieldset>
  );
}
