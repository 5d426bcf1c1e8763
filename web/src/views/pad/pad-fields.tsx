import { Button } from "antd";
import { useTranslation } from "react-i18next";
import type { CatalogueItem, PadDocument } from "../../api/client";
import { ChoiceField } from "../../parts/choice-field";
import { FigureField, TickField } from "../../parts/figure-field";
import { Fold } from "../../parts/fold";
import { measured } from "../../parts/format";
import { Tool } from "../../parts/glyphs";
import { readFigure } from "../../parts/read-figure";
import { WordsField } from "../../parts/words-field";
import { modelsOf, useCatalogue } from "./least-form";
import styles from "./pad.module.css";
import { pipes } from "./pad-draft";
import { at, type PathIn, type PathTo, put } from "./paths-in-doc";

type Line = NonNullable<PadDocument["suction"]>[number];
type Diverter = NonNullable<PadDocument["valves"]>[number];

export interface Editing {
  doc: PadDocument;
  texts: Record<string, string>;
  says: Record<string, string>;
  onChange: (doc: PadDocument, texts: Record<string, string>) => void;
}

/** A figure of the document: what was typed stays as typed until it reads as one. */
function Figure({
  e,
  path,
  label,
  unit,
  hint,
}: {
  e: Editing;
  path: PathTo<PadDocument, number>;
  label: string;
  unit: string;
  hint?: string;
}) {
  const own = at(e.doc, path);
  return (
    <FigureField
      id={`doc-${path}`}
      label={label}
      unit={unit}
      hint={hint}
      value={e.texts[path] ?? (own === undefined ? "" : String(own))}
      say={e.says[path]}
      onChange={(text) => {
        const v = text.trim() === "" ? 0 : readFigure(text);
        e.onChange(Number.isNaN(v) ? e.doc : put(e.doc, path, v), { ...e.texts, [path]: text });
      }}
    />
  );
}

/** Every field of a pad, in the order that the water takes. */
export function PadFields(e: Editing) {
  const { t } = useTranslation();
  const set = (path: PathIn<PadDocument>, v: unknown) => e.onChange(put(e.doc, path, v), drop(e.texts, path));
  return (
    <div className={styles["pad-fields"]}>
      <Equipment e={e} set={set} />
      <Lines e={e} set={set} side="suction" />
      <RunFields e={e} path="suctionTrunk" title={t("pad.suctionTrunk")}>
        <Figure e={e} path="straightIn" label={t("pad.straight")} unit="in" />
      </RunFields>
      <RunFields e={e} path="discharge" title={t("pad.discharge")} />
      <RunFields e={e} path="returnTrunk" title={t("pad.returnTrunk")} />
      <Lines e={e} set={set} side="returns" />
      <Valves e={e} set={set} />
      <SpaFields e={e} set={set} />
      <Gauges e={e} set={set} />
      <Programme e={e} set={set} />
    </div>
  );
}

type Set = (path: PathIn<PadDocument>, v: unknown) => void;

/** Typed figures under a path are forgotten when what they stood for is replaced. */
function drop(texts: Record<string, string>, path: string): Record<string, string> {
  return Object.fromEntries(
    Object.entries(texts).filter(([k]) => k !== path && !k.startsWith(`${path}.`) && !k.startsWith(`${path}[`)),
  );
}

function Equipment({ e, set }: { e: Editing; set: Set }) {
  const { t } = useTranslation();
  const items = useCatalogue();
  const find = (model: string) => items.find((i) => i.model === model);
  const models = (kind: CatalogueItem["kind"], own: string | undefined, none?: string) => {
    const names = modelsOf(items, kind).map((i) => i.model);
    return [
      ...(none ? [{ value: "", label: none }] : []),
      ...(own && !names.includes(own) ? [own, ...names] : names).map((m) =>
        typeof m === "string" ? { value: m, label: m } : m,
      ),
    ];
  };
  const d = e.doc;
  return (
    <fieldset>
      <legend>{t("pad.equipment")}</legend>
      <ChoiceField
        label={t("station.pump")}
        value={d.pump.model}
        options={models("pump", d.pump.model)}
        onChange={(m) => set("pump", find(m)?.pump ?? d.pump)}
      />
      {d.pump.kind === "holding" && <Figure e={e} path="pump.holdGpm" label={t("pad.hold")} unit="gpm" />}
      <ChoiceField
        label={t("station.filter")}
        value={d.filter.model}
        options={models("filter", d.filter.model)}
        onChange={(m) => set("filter", find(m)?.filter ?? d.filter)}
      />
      <ChoiceField
        label={t("pad.valve")}
        value={d.filter.valve}
        options={(["multiport", "slide", "none"] as const).map((v) => ({ value: v, label: t(`pad.valves.${v}`) }))}
        onChange={(v) =>
          e.onChange({ ...d, filter: { ...d.filter, valve: v }, waste: v === "none" ? undefined : d.waste }, e.texts)
        }
      />
      <Figure e={e} path="filter.areaFt2" label={t("pad.area")} unit="ft²" />
      <Figure e={e} path="filter.labelPsi" label={t("pad.label")} unit="psi" hint={t("pad.zeroUnknown")} />
      {d.filter.kind === "sand" && (
        <Figure e={e} path="filter.grainMm" label={t("pad.grain")} unit="mm" hint={t("pad.grainHint")} />
      )}
      <ChoiceField
        label={t("station.heater")}
        value={d.heater?.model ?? ""}
        options={models("heater", d.heater?.model, t("pad.none"))}
        onChange={(m) =>
          e.onChange({ ...d, heater: find(m)?.heater, heaterBypass: m ? d.heaterBypass : undefined }, e.texts)
        }
      />
      {d.heater && (
        <TickField
          label={t("pad.bypass")}
          checked={Boolean(d.heaterBypass)}
          onChange={(on) => set("heaterBypass", on ? { boreIn: d.returnTrunk.boreIn, opening: 0 } : undefined)}
        />
      )}
      <ChoiceField
        label={t("station.cell")}
        value={d.cell?.model ?? ""}
        options={models("cell", d.cell?.model, t("pad.none"))}
        onChange={(m) => set("cell", find(m)?.cell)}
      />
      <TickField
        label={t("pad.check")}
        checked={d.checkValve ?? false}
        onChange={(on) => set("checkValve", on || undefined)}
      />
    </fieldset>
  );
}

function PipeChoice({ e, path, set }: { e: Editing; path: PathTo<PadDocument, number>; set: Set }) {
  const { t } = useTranslation();
  const own = String(at(e.doc, path));
  const known = pipes.map((p) => ({ value: String(p.bore), label: `${p.nominal} in` }));
  const options = known.some((k) => k.value === own)
    ? known
    : [...known, { value: own, label: t("pad.boreOf", { bore: own }) }];
  return (
    <ChoiceField
      label={t("pad.pipe")}
      value={own}
      say={e.says[path]}
      options={options}
      onChange={(v) => set(path, Number(v))}
    />
  );
}

function RunFields({
  e,
  path,
  title,
  children,
}: {
  e: Editing;
  path: "suctionTrunk" | "discharge" | "returnTrunk";
  title: string;
  children?: React.ReactNode;
}) {
  const { t } = useTranslation();
  const set: Set = (p, v) => e.onChange(put(e.doc, p, v), drop(e.texts, p));
  return (
    <fieldset>
      <legend>{title}</legend>
      <PipeChoice e={e} path={`${path}.boreIn`} set={set} />
      <Figure e={e} path={`${path}.lengthFt`} label={t("pad.lineLength")} unit="ft" />
      <Figure e={e} path={`${path}.fittingsK`} label={t("pad.fittings")} unit="K" hint={t("pad.fittingsHint")} />
      {children}
    </fieldset>
  );
}

const kinds = {
  suction: ["skimmer", "drain", "vacuum", "spa-drain"],
  returns: ["return", "spa-jets", "in-floor", "feature"],
} as const;

function Lines({ e, set, side }: { e: Editing; set: Set; side: "suction" | "returns" }) {
  const { t } = useTranslation();
  const lines = e.doc[side] ?? [];
  const on = [{ value: "", label: t("pad.onTrunk") }, ...ports(e.doc, side === "suction" ? "suction" : "return", t)];
  const add = () => {
    const last = lines[lines.length - 1];
    const kind = side === "suction" ? "skimmer" : "return";
    const id = freeId(e.doc, kind);
    set(side, [...lines, { ...last, id, name: t(`line.${kind}`), kind, on: last?.on } as Line]);
  };
  return (
    <fieldset>
      <legend>{t(`pad.${side}`)}</legend>
      {lines.map((l, i) => {
        const p = `${side}[${i}]` as const;
        return (
          <Fold
            key={l.id}
            head={
              <>
                <b>{l.name}</b>{" "}
                <span className="quiet">
                  {t(`line.${l.kind}`)} · {measured(l.lengthFt, "ft")}
                </span>
              </>
            }
            open={Object.keys(e.says).some((k) => k.startsWith(p)) || undefined}
          >
            <WordsField
              label={t("pad.lineName")}
              value={l.name}
              say={e.says[`${p}.name`]}
              onChange={(v) => set(`${p}.name`, v)}
            />
            <ChoiceField
              label={t("pad.kind")}
              value={l.kind}
              say={e.says[`${p}.kind`]}
              options={kinds[side]
                .filter((k) => e.doc.spa || !k.startsWith("spa"))
                .map((k) => ({ value: k as Line["kind"], label: t(`line.${k}`) }))}
              onChange={(k) => set(`${p}.kind`, k)}
            />
            <PipeChoice e={e} path={`${p}.boreIn`} set={set} />
            <Figure e={e} path={`${p}.lengthFt`} label={t("pad.lineLength")} unit="ft" />
            <Figure e={e} path={`${p}.fittingsK`} label={t("pad.fittings")} unit="K" hint={t("pad.fittingsHint")} />
            <Figure e={e} path={`${p}.opening`} label={t("pad.opening")} unit="0–1" hint={t("pad.openingHint")} />
            <ChoiceField
              label={t("pad.on")}
              value={l.on ?? ""}
              say={e.says[`${p}.on`]}
              options={on}
              onChange={(v) => set(`${p}.on`, v || undefined)}
            />
            {side === "suction" ? (
              <>
                <Figure e={e} path={`${p}.covers`} label={t("pad.covers")} unit="no." hint={t("pad.zeroUsual")} />
                <Figure e={e} path={`${p}.ratingGpm`} label={t("pad.rating")} unit="gpm" hint={t("pad.zeroUnknown")} />
              </>
            ) : (
              <>
                <Figure e={e} path={`${p}.eyeballIn`} label={t("pad.eyeball")} unit="in" />
                {l.kind === "feature" && <Figure e={e} path={`${p}.outletFt`} label={t("pad.outlet")} unit="ft" />}
                <TickField
                  label={t("pad.lineCheck")}
                  checked={l.checkValve ?? false}
                  onChange={(v) => set(`${p}.checkValve`, v || undefined)}
                />
              </>
            )}
            <Figure e={e} path={`${p}.leastGpm`} label={t("pad.leastFlow")} unit="gpm" hint={t("pad.zeroNone")} />
            {lines.length > 1 && (
              <Button
                size="small"
                onClick={() =>
                  set(
                    side,
                    lines.filter((_, j) => j !== i),
                  )
                }
              >
                {t("pad.removeLine", { name: l.name })}
              </Button>
            )}
          </Fold>
        );
      })}
      {e.says[side] && <span className="field-says">{e.says[side]}</span>}
      {lines.length < 12 && (
        <Button type="dashed" onClick={add}>
          <Tool name="plus" />
          {t("pad.addLine")}
        </Button>
      )}
    </fieldset>
  );
}

function ports(doc: PadDocument, side: Diverter["side"], t: (k: string, o?: Record<string, unknown>) => string) {
  return (doc.valves ?? [])
    .filter((v) => v.side === side)
    .flatMap((v) =>
      ["a", "b"].map((p) => ({
        value: `${v.id}:${p}`,
        label: t("drawing.port", { name: v.name, port: p.toUpperCase() }),
      })),
    );
}

function freeId(doc: PadDocument, stem: string): string {
  const used = new Set([...(doc.suction ?? []), ...(doc.returns ?? []), ...(doc.valves ?? [])].map((x) => x.id));
  for (let i = 1; ; i++) if (!used.has(`${stem}-${i}`)) return `${stem}-${i}`;
}

function Valves({ e, set }: { e: Editing; set: Set }) {
  const { t } = useTranslation();
  const valves = e.doc.valves ?? [];
  const add = (side: Diverter["side"]) => {
    const id = freeId(e.doc, `${side}-valve`);
    const made: Diverter = {
      id,
      name: t(`pad.newValve.${side}`),
      side,
      boreIn: e.doc.suctionTrunk.boreIn,
      angleDeg: 90,
    };
    set("valves", [...valves, made]);
  };
  return (
    <fieldset>
      <legend>{t("pad.threeWay")}</legend>
      <p className="quiet">{t("pad.threeWayHint")}</p>
      {valves.map((v, i) => {
        const p = `valves[${i}]` as const;
        const others = ports(e.doc, v.side, t).filter((o) => !o.value.startsWith(`${v.id}:`));
        return (
          <Fold
            key={v.id}
            head={
              <>
                <b>{v.name}</b> <span className="quiet">{t(`pad.side.${v.side}`)}</span>
              </>
            }
            open={Object.keys(e.says).some((k) => k.startsWith(p)) || undefined}
          >
            {e.says[p] && <span className="field-says">{e.says[p]}</span>}
            <WordsField
              label={t("pad.lineName")}
              value={v.name}
              say={e.says[`${p}.name`]}
              onChange={(n) => set(`${p}.name`, n)}
            />
            <PipeChoice e={e} path={`${p}.boreIn`} set={set} />
            <Figure e={e} path={`${p}.angleDeg`} label={t("pad.angle")} unit="°" hint={t("pad.angleHint")} />
            <ChoiceField
              label={t("pad.on")}
              value={v.on ?? ""}
              say={e.says[`${p}.on`]}
              options={[{ value: "", label: t("pad.onTrunk") }, ...others]}
              onChange={(on) => set(`${p}.on`, on || undefined)}
            />
            <Button size="small" onClick={() => e.onChange(withoutValve(e.doc, v), e.texts)}>
              {t("pad.removeLine", { name: v.name })}
            </Button>
          </Fold>
        );
      })}
      {(["suction", "return"] as const).map((s) => (
        <button key={s} type="button" className="add" onClick={() => add(s)}>
          <Tool name="plus" />
          {t(`pad.addValve.${s}`)}
        </button>
      ))}
    </fieldset>
  );
}

/** What hung on a removed valve hangs where the valve did. */
function withoutValve(doc: PadDocument, v: Diverter): PadDocument {
  const move = <T extends { on?: string }>(x: T): T => (x.on?.startsWith(`${v.id}:`) ? { ...x, on: v.on } : x);
  return {
    ...doc,
    suction: doc.suction?.map(move) ?? null,
    returns: doc.returns?.map(move) ?? null,
    valves: doc.valves?.filter((o) => o.id !== v.id).map(move),
  };
}

function SpaFields({ e, set }: { e: Editing; set: Set }) {
  const { t } = useTranslation();
  const { spa } = e.doc;
  const drop = () => {
    const dry = (l: Line) => !l.kind.startsWith("spa");
    e.onChange(
      {
        ...e.doc,
        spa: undefined,
        suction: e.doc.suction?.filter(dry) ?? null,
        returns: e.doc.returns?.filter(dry) ?? null,
      },
      e.texts,
    );
  };
  return (
    <fieldset>
      <legend>{t("pad.spa")}</legend>
      <TickField
        label={t("pad.hasSpa")}
        checked={Boolean(spa)}
        onChange={(on) => (on ? set("spa", { surfaceFt: 0.5, gallons: 500, spills: true }) : drop())}
      />
      {spa && (
        <>
          <Figure e={e} path="spa.surfaceFt" label={t("pad.spaHeight")} unit="ft" />
          <Figure e={e} path="spa.gallons" label={t("pad.gallons")} unit="gal" />
          <Figure e={e} path="spa.drawGallons" label={t("pad.spaDraw")} unit="gal" hint={t("pad.spaDrawHint")} />
          <Figure e={e} path="spa.roomGallons" label={t("pad.spaRoom")} unit="gal" />
          <TickField
            label={t("pad.spills")}
            checked={spa.spills ?? false}
            onChange={(v) => set("spa.spills", v || undefined)}
          />
        </>
      )}
    </fieldset>
  );
}

function Gauges({ e, set }: { e: Editing; set: Set }) {
  const { t } = useTranslation();
  const m = e.doc.meters;
  return (
    <fieldset>
      <legend>{t("pad.gauges")}</legend>
      <Figure e={e} path="gaugeHeightFt" label={t("pad.gaugeHeight")} unit="ft" />
      <Figure e={e} path="pumpHeightFt" label={t("pad.pumpHeight")} unit="ft" hint={t("pad.pumpHeightHint")} />
      <Figure e={e} path="altitudeFt" label={t("pad.altitude")} unit="ft" />
      <ChoiceField
        label={t("pad.tap")}
        value={e.doc.vacuumTap}
        options={(["pot", "inlet", "none"] as const).map((v) => ({ value: v, label: t(`pad.taps.${v}`) }))}
        onChange={(v) => e.onChange({ ...e.doc, vacuumTap: v, meters: { ...m, hasVacuum: v !== "none" } }, e.texts)}
      />
      <TickField label={t("pad.hasFlow")} checked={m.hasFlow} onChange={(v) => set("meters.hasFlow", v)} />
      <TickField label={t("pad.hasPower")} checked={m.hasPower} onChange={(v) => set("meters.hasPower", v)} />
      {e.doc.filter.valve !== "none" && (
        <>
          <TickField
            label={t("pad.hasWaste")}
            checked={Boolean(e.doc.waste)}
            onChange={(on) =>
              set("waste", on ? { boreIn: e.doc.discharge.boreIn, lengthFt: 30, fittingsK: 3, outletFt: 0 } : undefined)
            }
          />
          {e.doc.waste && (
            <>
              <Figure e={e} path="waste.lengthFt" label={t("pad.wasteLength")} unit="ft" />
              <Figure e={e} path="waste.outletFt" label={t("pad.wasteOutlet")} unit="ft" />
            </>
          )}
        </>
      )}
    </fieldset>
  );
}

function Programme({ e, set }: { e: Editing; set: Set }) {
  const { t } = useTranslation();
  const slots = e.doc.programme ?? [];
  return (
    <fieldset>
      <legend>{t("pad.programme")}</legend>
      {e.says.programme && <span className="field-says">{e.says.programme}</span>}
      {slots.map((_, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a slot is its place in the day
        <div className={styles.slot} key={i}>
          <Figure e={e} path={`programme[${i}].startHour`} label={t("pad.start")} unit="h" />
          <Figure e={e} path={`programme[${i}].hours`} label={t("pad.hours")} unit="h" />
          <Figure e={e} path={`programme[${i}].rpm`} label={t("meter.speed")} unit="rpm" />
          <Button
            size="small"
            aria-label={t("pad.removeSlot", { n: i + 1 })}
            onClick={() =>
              set(
                "programme",
                slots.filter((_s, j) => j !== i),
              )
            }
          >
            ×
          </Button>
        </div>
      ))}
      {slots.length < 8 && (
        <button
          type="button"
          className="add"
          onClick={() =>
            set("programme", [...slots, { startHour: 20, hours: 2, rpm: e.doc.pump.leastRpm || e.doc.pump.topRpm }])
          }
        >
          <Tool name="plus" />
          {t("pad.addSlot")}
        </button>
      )}
    </fieldset>
  );
}
