import { useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, fieldSays, type Problem } from "../../api/client";
import { ChoiceField } from "../../parts/choice-field";
import { FigureField } from "../../parts/figure-field";
import { readFigure } from "../../parts/read-figure";
import { WordsField } from "../../parts/words-field";
import styles from "./pad.module.css";

const pumps = ["variable", "single", "two", "holding"] as const;
const filters = ["sand", "cartridge", "de"] as const;
const valves = ["multiport", "slide", "none"] as const;

/** A pump or a filter that is on no list: what its plate says is enough for an ordinary one of its size. */
export function PlateForm({ part, onMade }: { part: "pump" | "filter"; onMade: (model: string) => void }) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [form, setForm] = useState({
    model: "",
    pump: "variable",
    hp: "",
    filter: "sand",
    valve: "multiport",
    area: "",
  });
  const set = (is: Partial<typeof form>) => setForm({ ...form, ...is });
  const add = api.useMutation("post", "/api/v1/catalogue/plates", {
    onSuccess: async (items) => {
      queries.setQueryData(["get", "/api/v1/catalogue", {}], items);
      await queries.invalidateQueries({ queryKey: ["get", "/api/v1/catalogue"] });
      onMade(form.model.trim());
    },
  });
  const problem = add.error as Problem | null;
  const says = fieldSays(problem);
  const put = () =>
    add.mutate({
      body:
        part === "pump"
          ? {
              part,
              model: form.model.trim() || " ",
              pump: form.pump as (typeof pumps)[number],
              hp: readFigure(form.hp) || 0,
            }
          : {
              part,
              model: form.model.trim() || " ",
              filter: form.filter as (typeof filters)[number],
              valve: form.valve as (typeof valves)[number],
              areaFt2: readFigure(form.area) || 0,
            },
    });
  return (
    <fieldset className={styles.plate} id={`plate-${part}`}>
      <legend>{t(`plate.${part}`)}</legend>
      <p className="quiet">{t("plate.what")}</p>
      <WordsField
        id={`plate-${part}-model`}
        label={t("plate.model")}
        value={form.model}
        say={says.model}
        onChange={(model) => set({ model })}
      />
      {part === "pump" ? (
        <>
          <ChoiceField
            id="plate-pump-kind"
            label={t("plate.kind")}
            value={form.pump as (typeof pumps)[number]}
            options={pumps.map((k) => ({ value: k, label: t(`catalogue.pump.kinds.${k}`) }))}
            onChange={(pump) => set({ pump })}
          />
          <FigureField
            id="plate-hp"
            label={t("plate.hp")}
            unit="hp"
            value={form.hp}
            say={says.hp}
            onChange={(hp) => set({ hp })}
          />
        </>
      ) : (
        <>
          <ChoiceField
            id="plate-filter-kind"
            label={t("plate.kind")}
            value={form.filter as (typeof filters)[number]}
            options={filters.map((k) => ({ value: k, label: t(`plate.filters.${k}`) }))}
            onChange={(filter) => set({ filter, valve: filter === "cartridge" ? "none" : form.valve })}
          />
          {form.filter !== "cartridge" && (
            <ChoiceField
              id="plate-filter-valve"
              label={t("plate.valve")}
              value={form.valve as (typeof valves)[number]}
              options={valves.map((k) => ({ value: k, label: t(`plate.valves.${k}`) }))}
              onChange={(valve) => set({ valve })}
            />
          )}
          <FigureField
            id="plate-area"
            label={t("plate.area")}
            unit="ft²"
            value={form.area}
            say={says.areaFt2}
            onChange={(area) => set({ area })}
          />
        </>
      )}
      <Button id={`plate-${part}-add`} disabled={add.isPending} onClick={put}>
        {t("plate.add")}
      </Button>
      {problem && Object.keys(says).length === 0 && (
        <p className="field-says" role="alert">
          {problem.detail ?? t("state.offline")}
        </p>
      )}
    </fieldset>
  );
}
