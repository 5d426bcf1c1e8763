import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type CatalogueItem, fieldSays, type PadDocument, type Problem, type Sketch } from "../../api/client";
import { ChoiceField } from "../../parts/choice-field";
import { FigureField, TickField } from "../../parts/figure-field";
import { figureSays, readFigure } from "../../parts/read-figure";
import { useSettled } from "../../parts/use-settled";
import { type Least, pipes } from "./pad-draft";
import { PlateForm } from "./plate-form";

export function useCatalogue() {
  return api.useQuery("get", "/api/v1/catalogue", {}, { staleTime: 300_000 }).data ?? [];
}

export const modelsOf = (items: CatalogueItem[], kind: CatalogueItem["kind"]) => items.filter((i) => i.kind === kind);

/** What is chosen where a model is on no list. */
const notListed = "?";

/** The usual pad that the least draws, once there is enough of it. */
export function useSketch(least: Least): { doc: PadDocument | null; says: Record<string, string> } {
  const { t } = useTranslation();
  const items = useCatalogue();
  const find = (model: string) => items.find((i) => i.model === model);
  const length = readFigure(least.lengthFt);
  const pump = find(least.pump)?.pump;
  const filter = find(least.filter)?.filter;
  const sketch: Sketch | null =
    pump && filter && !Number.isNaN(length)
      ? {
          pump,
          filter,
          heater: find(least.heater)?.heater,
          cell: find(least.cell)?.cell,
          pipeIn: Number(least.pipeIn),
          lengthFt: length,
          spa: least.spa,
          aboveGround: least.looks === "above" || undefined,
          hasVacuum: least.hasVacuum,
          hasFlow: least.hasFlow,
          hasPower: least.hasPower,
        }
      : null;
  const text = useSettled(JSON.stringify(sketch));
  const answer = api.useQuery(
    "post",
    "/api/v1/pads/sketch",
    { body: JSON.parse(text) as Sketch },
    { enabled: text !== "null", staleTime: 300_000, placeholderData: (before: PadDocument | undefined) => before },
  );
  const says: Record<string, string> = {};
  if (least.lengthFt && Number.isNaN(length)) says.lengthFt = figureSays(least.lengthFt);
  if (answer.isError && Object.keys(fieldSays(answer.error as Problem)).length) says.lengthFt = t("pad.lengthOff");
  return { doc: (sketch && !answer.isError && answer.data) || null, says };
}

/** The least: pump, filter, pipe and one length. */
export function LeastForm({
  least,
  says,
  onChange,
}: {
  least: Least;
  says: Record<string, string>;
  onChange: (l: Least) => void;
}) {
  const { t } = useTranslation();
  const items = useCatalogue();
  const set = (part: Partial<Least>) => onChange({ ...least, ...part });
  const looked = (kind: string, i: CatalogueItem) => {
    const looks = least.looks === "above" ? "cartridge" : ["sand", "cartridge", "de"].find((x) => x === least.looks);
    return kind !== "filter" || !looks || i.filter?.kind === looks;
  };
  const [plate, setPlate] = useState<"pump" | "filter" | "">("");
  const listed = (kind: "pump" | "filter") => [
    ...models(kind, t("pad.choose")),
    { value: notListed, label: t("plate.not") },
  ];
  const pick = (part: "pump" | "filter") => (model: string) => {
    setPlate(model === notListed ? part : plate === part ? "" : plate);
    set({ [part]: model === notListed ? "" : model });
  };
  const plateOf = (part: "pump" | "filter") =>
    plate === part && (
      <PlateForm
        part={part}
        onMade={(model) => {
          setPlate("");
          set({ [part]: model });
        }}
      />
    );
  const models = (kind: CatalogueItem["kind"], none: string) => [
    { value: "", label: none },
    ...modelsOf(items, kind)
      .filter((i) => looked(kind, i))
      .map((i) => ({ value: i.model, label: i.own ? `${i.model} · ${t("pad.own")}` : i.model })),
  ];
  return (
    <fieldset>
      <legend>{t("pad.least")}</legend>
      <p className="quiet">{t("pad.leastHint")}</p>
      <ChoiceField
        id="least-pump"
        label={t("station.pump")}
        value={least.pump}
        options={listed("pump")}
        onChange={pick("pump")}
      />
      {plateOf("pump")}
      <ChoiceField
        id="least-filter"
        label={t("station.filter")}
        value={least.filter}
        options={listed("filter")}
        onChange={pick("filter")}
      />
      {plateOf("filter")}
      <ChoiceField
        id="least-pipe"
        label={t("pad.pipe")}
        value={least.pipeIn}
        options={pipes.map((p) => ({ value: p.nominal as string, label: `${p.nominal} in` }))}
        onChange={(pipeIn) => set({ pipeIn })}
      />
      <FigureField
        id="least-length"
        label={t("pad.length")}
        unit="ft"
        value={least.lengthFt}
        say={says.lengthFt}
        onChange={(lengthFt) => set({ lengthFt })}
      />
      <ChoiceField
        id="least-heater"
        label={t("station.heater")}
        value={least.heater}
        options={models("heater", t("pad.none"))}
        onChange={(heater) => set({ heater })}
      />
      <ChoiceField
        id="least-cell"
        label={t("station.cell")}
        value={least.cell}
        options={models("cell", t("pad.none"))}
        onChange={(cell) => set({ cell })}
      />
      <div className="ticks">
        <TickField label={t("pad.hasSpa")} checked={least.spa} onChange={(spa) => set({ spa })} />
        <TickField label={t("pad.hasVacuum")} checked={least.hasVacuum} onChange={(hasVacuum) => set({ hasVacuum })} />
        <TickField label={t("pad.hasFlow")} checked={least.hasFlow} onChange={(hasFlow) => set({ hasFlow })} />
        <TickField label={t("pad.hasPower")} checked={least.hasPower} onChange={(hasPower) => set({ hasPower })} />
      </div>
    </fieldset>
  );
}
