import { Button, Segmented, Slider } from "antd";
import { useTranslation } from "react-i18next";
import type { PadDocument, PadOnRecord, PathsAsk } from "../../api/client";
import { Choice } from "../../parts/choice";
import { FigureField } from "../../parts/figure-field";
import { figure, percent } from "../../parts/format";
import { readFigure } from "../../parts/read-figure";
import styles from "./paths.module.css";

type Diverter = NonNullable<PadDocument["valves"]>[number];

interface Props {
  pad: PadOnRecord;
  speeds: number[];
  ask: PathsAsk;
  onChange: (ask: PathsAsk) => void;
}

/** Every handle of the pad, to be set on paper first. */
export function HandleBoard({ pad, speeds, ask, onChange }: Props) {
  const { t } = useTranslation();
  const doc = pad.document;
  const set = (id: string, v: number) => onChange({ ...ask, handles: { ...ask.handles, [id]: v } });
  const at = (id: string, own: number) => ask.handles[id] ?? own;
  const sets = spaSets(doc);
  const plain = [...(doc.suction ?? []), ...(doc.returns ?? [])];
  return (
    <>
      <fieldset className={styles.board}>
        <legend>{t("paths.pump")}</legend>
        <Segmented
          aria-label={t("paths.pump")}
          value={ask.rpm}
          options={[0, ...speeds, ...(speeds.includes(doc.pump.topRpm) ? [] : [doc.pump.topRpm])].map((s) => ({
            value: s,
            label: s === 0 ? t("drawing.off") : figure(s, "rpm"),
          }))}
          onChange={(rpm) => onChange({ ...ask, rpm })}
        />
        <FigureField
          id="paths-speed"
          label={t("meter.speed")}
          unit="rpm"
          value={String(ask.rpm)}
          onChange={(text) => {
            const v = readFigure(text || "0");
            if (!Number.isNaN(v)) onChange({ ...ask, rpm: Math.min(doc.pump.topRpm, Math.max(0, v)) });
          }}
        />
      </fieldset>
      {pad.settings.length > 1 && (
        <fieldset className={styles.board}>
          <legend>{t("paths.filterValve")}</legend>
          <div className={styles["set-grid"]}>
            {pad.settings.map((s) => (
              <button
                key={s}
                type="button"
                data-setting={s}
                aria-pressed={ask.setting === s}
                onClick={() => onChange({ ...ask, setting: s as PathsAsk["setting"] })}
              >
                {t(`setting.${s}`)}
              </button>
            ))}
          </div>
        </fieldset>
      )}
      {sets.length > 0 && (
        <fieldset className={styles.board}>
          <legend>{t("paths.sets")}</legend>
          <div className={styles["set-grid"]}>
            {sets.map((s) => (
              <button
                key={s.name}
                type="button"
                data-set={s.name}
                aria-pressed={Object.entries(s.handles).every(([id, v]) => at(id, own(doc, id)) === v)}
                onClick={() => onChange({ ...ask, handles: { ...ask.handles, ...s.handles } })}
              >
                {t(`paths.set.${s.name}`)}
              </button>
            ))}
          </div>
        </fieldset>
      )}
      {(doc.valves ?? []).map((v) => (
        <fieldset className={`board ${styles.turn}`} key={v.id}>
          <legend>{v.name}</legend>
          <Turn valve={v} doc={doc} angle={at(v.id, v.angleDeg)} onTurn={(a) => set(v.id, a)} />
        </fieldset>
      ))}
      <fieldset className={styles.board}>
        <legend>{t("paths.lines")}</legend>
        <div className="line-valves">
          {plain.map((l) => (
            <LineValve key={l.id} id={l.id} name={l.name} opening={at(l.id, l.opening)} onSet={(v) => set(l.id, v)} />
          ))}
          {doc.heaterBypass && (
            <LineValve
              id="heater-bypass"
              name={t("drawing.place.heater-bypass")}
              opening={at("heater-bypass", doc.heaterBypass.opening)}
              onSet={(v) => set("heater-bypass", v)}
            />
          )}
        </div>
      </fieldset>
      {Object.keys(ask.handles).length > 0 && (
        <Button onClick={() => onChange({ ...ask, handles: {} })}>{t("paths.asDescribed")}</Button>
      )}
    </>
  );
}

function LineValve({
  id,
  name,
  opening,
  onSet,
}: {
  id: string;
  name: string;
  opening: number;
  onSet: (v: number) => void;
}) {
  const { t } = useTranslation();
  const steps = [0, 0.25, 0.5, 0.75, 1];
  const all = steps.includes(opening) ? steps : [...steps, opening].sort((a, b) => a - b);
  return (
    <div className={styles["line-valve"]}>
      <label htmlFor={`handle-${id}`}>{name}</label>
      <Choice
        id={`handle-${id}`}
        data-handle={id}
        value={String(opening)}
        options={all.map((s) => ({
          value: String(s),
          label: s === 0 ? t("drawing.shut") : s === 1 ? t("paths.open") : t("drawing.open", { percent: percent(s) }),
        }))}
        onChange={(v) => onSet(Number(v))}
      />
    </div>
  );
}

/** A three-way valve: its closed mark points at what is shut. */
function Turn({
  valve,
  doc,
  angle,
  onTurn,
}: {
  valve: Diverter;
  doc: PadDocument;
  angle: number;
  onTurn: (a: number) => void;
}) {
  const { t } = useTranslation();
  const a = portWords(doc, `${valve.id}:a`);
  const b = portWords(doc, `${valve.id}:b`);
  const turned = ((180 - angle) * Math.PI) / 180;
  return (
    <>
      <div className={styles["turn-row"]}>
        <span>{a}</span>
        <svg width="64" height="44" viewBox="0 0 64 44" aria-hidden="true">
          <path d="M4 36H60M32 36V42" stroke="var(--line-strong)" strokeWidth="6" />
          <circle cx="32" cy="36" r="9" fill="var(--paper)" stroke="var(--ink)" strokeWidth="2.5" />
          <path
            d={`M32 36L${32 - 24 * Math.cos((angle * Math.PI) / 180)} ${36 - 24 * Math.sin(turned)}`}
            stroke="var(--ink)"
            strokeWidth="6"
            strokeLinecap="round"
          />
        </svg>
        <span>{b}</span>
      </div>
      <span data-handle={valve.id}>
        <Slider
          min={0}
          max={180}
          step={15}
          value={angle}
          marks={{ 0: a, 90: " ", 180: b }}
          tooltip={{ formatter: (v) => t("paths.angle", { angle: v }) }}
          ariaLabelForHandle={t("paths.turn", { name: valve.name })}
          ariaValueTextFormatterForHandle={(v) =>
            t("paths.degrees", { angle: v, shut: v < 45 ? a : v > 135 ? b : t("paths.neither") })
          }
          onChange={onTurn}
        />
      </span>
      <p className="quiet">
        {t("paths.degrees", { angle, shut: angle < 45 ? a : angle > 135 ? b : t("paths.neither") })}
      </p>
    </>
  );
}

/** What hangs on a port, in the names that the description gives. */
function portWords(doc: PadDocument, on: string): string {
  const lines = [...(doc.suction ?? []), ...(doc.returns ?? [])].filter((l) => l.on === on).map((l) => l.name);
  const valves = (doc.valves ?? []).filter((v) => v.on === on).map((v) => v.name);
  const all = [...lines, ...valves];
  return all.length > 1 ? `${all[0]} +${all.length - 1}` : (all[0] ?? "–");
}

const own = (doc: PadDocument, id: string) => doc.valves?.find((v) => v.id === id)?.angleDeg ?? 0;

/** The legal sets of spa valves, and the two that fill and drain it. */
function spaSets(doc: PadDocument): { name: "pool" | "spa" | "fill" | "drain"; handles: Record<string, number> }[] {
  const towards = (side: "suction" | "return", spa: boolean): Record<string, number> | null => {
    const lines = (side === "suction" ? doc.suction : doc.returns) ?? [];
    for (const v of doc.valves ?? []) {
      if (v.side !== side) continue;
      const isSpa = (port: string) => lines.some((l) => l.on === `${v.id}:${port}` && l.kind.startsWith("spa"));
      if (isSpa("a") !== isSpa("b")) return { [v.id]: isSpa("b") === spa ? 0 : 180 };
    }
    return null;
  };
  const s = { pool: towards("suction", false), spa: towards("suction", true) };
  const r = { pool: towards("return", false), spa: towards("return", true) };
  if (!s.pool || !s.spa || !r.pool || !r.spa) return [];
  return [
    { name: "pool", handles: { ...s.pool, ...r.pool } },
    { name: "spa", handles: { ...s.spa, ...r.spa } },
    { name: "fill", handles: { ...s.pool, ...r.spa } },
    { name: "drain", handles: { ...s.spa, ...r.pool } },
  ];
}
